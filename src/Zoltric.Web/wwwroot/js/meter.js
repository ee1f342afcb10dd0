// The hands-free trace: what the meter shows, as it comes; tones; the pedal. What is kept is the server's affair.
(function () {
  "use strict";
  var box = document.getElementById("meter");
  if (!box) return;
  var shapes = { settling: "◌", confirm: "?", "tips-off": "▲", "set-machine": "▲", move: "▲", watching: "◉", "by-hand": "■", trouble: "✕" };
  var kept = null, asked = null, audio = null, delays = window.meterDelays = [];

  function tone(hz, at, length, loud) {
    if (!audio) return;
    var o = audio.createOscillator(), g = audio.createGain(), t = audio.currentTime + at;
    o.frequency.value = hz;
    g.gain.setValueAtTime(loud || 0.25, t);
    g.gain.exponentialRampToValueAtTime(0.001, t + length);
    o.connect(g).connect(audio.destination);
    o.start(t);
    o.stop(t + length);
  }

  // Good: one high tone. Low: two falling. High: two rising. Unsure: one low. To confirm: a short tick.
  function say(judgement) {
    if (judgement === "ok") tone(880, 0, 0.25);
    else if (judgement === "low") { tone(520, 0, 0.18); tone(330, 0.22, 0.3); }
    else if (judgement === "high") { tone(330, 0, 0.18); tone(520, 0.22, 0.3); }
    else tone(260, 0, 0.25);
    if (navigator.vibrate) navigator.vibrate(judgement === "ok" ? 60 : [60, 60, 60]);
  }

  function order() { window.htmx.ajax("GET", box.dataset.order, { target: "#hands", swap: "innerHTML" }); }

  function shown(e) {
    var s = JSON.parse(e.data), words = document.getElementById("say"), before = words.dataset.stage;
    document.getElementById("figure").textContent = s.figure || "–";
    document.getElementById("say-words").textContent = s.say;
    document.getElementById("say-shape").textContent = shapes[s.stage] || "◌";
    words.dataset.stage = s.stage;
    document.getElementById("kept").textContent = s.kept;
    document.getElementById("supply").textContent = s.supply;
    if (s.meter) document.getElementById("meter-name").textContent = s.meter;
    if (s.at && delays.length < 100000) delays.push(Date.now() - s.at);
    // Louder than a verdict: eyes and hands are elsewhere.
    if (s.jumped) { tone(1200, 0, 0.3, 0.7); if (navigator.vibrate) navigator.vibrate(200); }
    if (s.stage !== before && s.stage === "confirm") tone(660, 0, 0.06);
    if (kept !== null && s.kept > kept) say(s.judgement);
    var stands = document.querySelector("#hands [data-mark]");
    if (s.mark && stands && s.mark !== stands.dataset.mark && s.mark !== asked) { asked = s.mark; order(); }
    kept = s.kept;
  }

  var live = new EventSource(box.dataset.live);
  live.addEventListener("shown", shown);
  live.addEventListener("error", function () {
    if (live.readyState === EventSource.CLOSED) {
      document.getElementById("say-words").textContent = "The meter is not read any more. Go on by hand on the trace.";
      document.getElementById("say-shape").textContent = shapes["by-hand"];
    }
  });

  function press(key) {
    if (box.dataset.mine !== "true") return;
    if (window.AudioContext) audio = audio || new AudioContext();
    var body = new URLSearchParams();
    body.set("key", key);
    body.set("__RequestVerificationToken", box.querySelector("[name=__RequestVerificationToken]").value);
    fetch(box.dataset.press, { method: "POST", body: body, headers: { "Content-Type": "application/x-www-form-urlencoded" } });
  }

  document.addEventListener("click", function (e) {
    if (window.AudioContext) audio = audio || new AudioContext();
    var b = e.target.closest("[data-press-key]");
    if (b) press(b.dataset.pressKey);
  });
  // A foot pedal sends Space, Enter or a page key; a headset its play key.
  document.addEventListener("keydown", function (e) {
    if (e.ctrlKey || e.metaKey || e.altKey || e.repeat || e.target.closest("input, select, textarea, a, button:not([data-press-key])")) return;
    var key = { " ": "pedal", Enter: "pedal", PageDown: "pedal", MediaPlayPause: "pedal", r: "reject", R: "reject", PageUp: "reject", Backspace: "back", MediaTrackPrevious: "back" }[e.key];
    if (key) { e.preventDefault(); e.stopPropagation(); press(key); }
  }, true);
})();
