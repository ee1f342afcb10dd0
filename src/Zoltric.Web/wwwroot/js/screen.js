// How the screen looks, kept on this device: colours, size of the text, sound. Runs before the page is drawn.
(function () {
  "use strict";
  var usual = { theme: "auto", size: "100", sound: "off", ahead: "auto" };

  function get(what) {
    try { return localStorage.getItem("zoltric-" + what) || usual[what]; } catch (e) { return usual[what]; }
  }

  function apply() {
    var root = document.documentElement, theme = get("theme");
    if (theme === "auto") delete root.dataset.theme; else root.dataset.theme = theme;
    root.dataset.size = get("size");
    root.style.fontSize = get("size") + "%";
  }

  // On a phone the parts of a page fold, but for the one that was asked for; on a desk they stand open and are no controls.
  document.addEventListener("DOMContentLoaded", function () {
    var narrow = window.innerWidth <= 900, asked = location.hash.length > 1 ? document.getElementById(location.hash.slice(1)) : null;
    document.querySelectorAll("details.fold").forEach(function (d) {
      // What came back with something typed in it stands open, and what it is in.
      d.open = !narrow || Boolean(asked && d.contains(asked) || d.querySelector("details[open]:not(.fold)"));
      if (!narrow) d.querySelector("summary").tabIndex = -1;
    });
  });

  apply();

  function tone(at, high) {
    var o = sound.context.createOscillator(), g = sound.context.createGain(), t = sound.context.currentTime + at;
    o.frequency.value = high ? 880 : 330;
    g.gain.setValueAtTime(0.15, t);
    g.gain.exponentialRampToValueAtTime(0.001, t + 0.18);
    o.connect(g).connect(sound.context.destination);
    o.start(t); o.stop(t + 0.2);
  }

  // One tone good, two tones low or high; nothing where the reading says nothing.
  function sound(judgement) {
    if (get("sound") !== "on" || !window.AudioContext || !judgement) return;
    sound.context = sound.context || new AudioContext();
    if (judgement === "ok") tone(0, true);
    else if (judgement === "low" || judgement === "high") { tone(0, judgement === "high"); tone(0.25, judgement === "high"); }
  }

  var lines = -1;

  function heard() {
    var log = document.querySelectorAll(".log li:not(.struck)");
    if (lines >= 0 && log.length > lines) sound(log[log.length - 1].dataset.judgement);
    lines = log.length;
  }

  document.addEventListener("DOMContentLoaded", function () {
    heard();
    var keys = document.getElementById("keys");
    document.querySelectorAll("[data-screen]").forEach(function (s) {
      s.value = get(s.dataset.screen);
      s.addEventListener("change", function () {
        try { localStorage.setItem("zoltric-" + s.dataset.screen, s.value); } catch (e) { /* private windows forget */ }
        apply();
      });
    });
    document.addEventListener("click", function (e) { if (e.target.closest("[data-keys]")) keys.showModal(); });
    document.addEventListener("keydown", function (e) {
      if (e.key === "?" && !/^(INPUT|TEXTAREA|SELECT)$/.test(e.target.tagName) && !e.target.isContentEditable && !keys.open) { e.preventDefault(); keys.showModal(); }
    });
  });
  document.addEventListener("htmx:afterSwap", heard);

  // A list that is worked off stays where it is while its items are kept one by one; a refusal is brought into view.
  var place = "zoltric-place";
  document.addEventListener("submit", function (e) {
    var list = e.target.closest("ol.verify");
    try { if (list) sessionStorage.setItem(place, location.pathname + " " + window.scrollY); } catch (x) { /* private windows forget */ }
  });
  document.addEventListener("DOMContentLoaded", function () {
    var kept = null;
    try { kept = sessionStorage.getItem(place); sessionStorage.removeItem(place); } catch (x) { /* private windows forget */ }
    var refused = document.querySelector("[data-here]");
    if (refused) refused.scrollIntoView({ block: "center", behavior: "instant" });
    else if (kept && kept.split(" ")[0] === location.pathname) window.scrollTo({ top: +kept.split(" ")[1], behavior: "instant" });
  });

  // A request that fails says so; what was typed still stands in its field.
  function failed(e) {
    if (e.detail && e.detail.waits) return;
    var bar = document.getElementById("not-sent");
    if (bar) bar.hidden = false;
  }
  document.addEventListener("htmx:responseError", failed);
  // After those who keep it on the phone have had their say.
  document.addEventListener("DOMContentLoaded", function () {
    document.addEventListener("htmx:sendError", failed);
    document.addEventListener("htmx:timeout", failed);
  });
  document.addEventListener("htmx:afterSwap", function () { var bar = document.getElementById("not-sent"); if (bar) bar.hidden = true; });
})();
