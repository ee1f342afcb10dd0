// A figure watched for long: the figure, its strip chart, a tone at every change. What is kept is the server's affair.
(function () {
  "use strict";
  var box = document.getElementById("watch");
  if (!box || !window.uPlot) return;
  var strip = document.getElementById("strip"), most = 6000, refreshEvery = 4000;
  var data = [[], [], []], marks = [], chart = null, audio = null, touched = 0, unit = "";
  var ink = function (name) { return getComputedStyle(document.documentElement).getPropertyValue(name).trim() || "currentColor"; };

  function clock(s) {
    var part = function (whole, unit, rest, less) { return Math.floor(whole) + " " + unit + (Math.floor(rest) > 0 ? " " + Math.floor(rest) + " " + less : ""); };
    return s >= 3600 ? part(s / 3600, "h", s % 3600 / 60, "min") : s >= 60 ? part(s / 60, "min", s % 60, "s") : s.toFixed(0) + " s";
  }

  function figure(v) {
    var a = Math.abs(v);
    return a !== 0 && a < 1 && unit !== "Ω" ? +(v * 1000).toPrecision(3) + " m" + unit : +v.toPrecision(3) + " " + unit;
  }

  function drawMarks(u) {
    var c = u.ctx;
    c.save();
    c.strokeStyle = ink("--ink");
    c.fillStyle = ink("--ink");
    c.font = "bold " + 13 * devicePixelRatio + "px sans-serif";
    c.setLineDash([4 * devicePixelRatio, 4 * devicePixelRatio]);
    marks.forEach(function (m, i) {
      var x = u.valToPos(m.at, "x", true);
      c.beginPath();
      c.moveTo(x, u.bbox.top);
      c.lineTo(x, u.bbox.top + u.bbox.height);
      c.stroke();
      c.fillText(i + 1, x + 4 * devicePixelRatio, u.bbox.top + (14 + i % 3 * 15) * devicePixelRatio);
    });
    c.restore();
  }

  function size() { return { width: Math.max(280, strip.clientWidth - 4), height: window.innerWidth < 700 ? 190 : 260 }; }

  function make(name) {
    var axis = { stroke: ink("--ink"), grid: { stroke: ink("--line") }, ticks: { stroke: ink("--line") } };
    var wide = window.innerWidth >= 700, watched = data[2].some(function (v) { return v !== null; });
    var options = Object.assign(size(), {
      scales: {
        x: { time: false },
        // A supply that stands still is a straight line, and no picture of its last digit.
        v: { range: function (u, low, high) { var room = Math.max(0.5, (high - low) / 4); return [low - room, high + room]; } }
      },
      padding: [8, 8, 0, 0],
      legend: { show: false },
      cursor: { show: false },
      series: [{}, { label: name, stroke: ink("--ink"), width: 2, points: { show: false }, spanGaps: false }, { label: "supply", stroke: ink("--petrol"), width: 1.5, dash: [8, 4], scale: "v", points: { show: false } }],
      axes: [
        Object.assign({}, axis, { values: function (u, all) { return all.map(clock); }, space: wide ? 110 : 70, incrs: [1, 2, 5, 10, 30, 60, 120, 300, 600, 1200, 1800, 3600, 7200, 10800, 21600, 43200, 86400] }),
        Object.assign({}, axis, { values: function (u, all) { return all.map(figure); }, size: wide ? 84 : 74 }),
        Object.assign({}, axis, { scale: "v", side: 1, show: watched && wide, grid: { show: false }, values: function (u, all) { return all.map(function (v) { return +v.toFixed(2) + " V"; }); }, size: 72 })
      ],
      hooks: { draw: [drawMarks] }
    });
    if (chart) chart.destroy();
    chart = new window.uPlot(options, data, strip);
  }

  // Of many figures every second goes: the picture stays, and so does the phone's memory.
  function thin() {
    if (data[0].length <= most) return;
    data = data.map(function (all) { return all.filter(function (v, i) { return i % 2 === 0; }); });
  }

  function tone(hz, length, loud) {
    if (!audio) return;
    var o = audio.createOscillator(), g = audio.createGain(), t = audio.currentTime;
    o.frequency.value = hz;
    g.gain.setValueAtTime(loud, t);
    g.gain.exponentialRampToValueAtTime(0.001, t + length);
    o.connect(g).connect(audio.destination);
    o.start(t);
    o.stop(t + length);
  }

  function shown(e) {
    var s = JSON.parse(e.data), stage = document.getElementById("say");
    document.getElementById("figure").textContent = s.figure || "–";
    document.getElementById("say-words").textContent = s.say;
    document.getElementById("say-shape").textContent = { watching: "◉", dial: "▲", trouble: "✕" }[s.stage] || "◌";
    stage.dataset.stage = s.stage;
    document.getElementById("spread").textContent = s.spread.replace(/(\d) (?=[a-zA-ZΩ])/g, "$1\u00a0");
    if (!chart || s.stage !== "watching" || !s.figure || data[0].length && s.seconds <= data[0][data[0].length - 1]) return;
    data[0].push(s.seconds);
    data[1].push(s.value);
    data[2].push(s.supply);
    thin();
    if (s.supply !== null && !chart.axes[2].show && window.innerWidth >= 700) make(chart.series[1].label);
    else chart.setData(data);
    if (s.jumped) { tone(1200, 0.3, 0.7); if (navigator.vibrate) navigator.vibrate(200); }
    if (s.marks !== marks.length) series();
  }

  function series() {
    return fetch(box.dataset.series, { headers: { Accept: "application/json" } }).then(function (r) { return r.ok ? r.json() : null; }).then(function (s) {
      if (!s) return;
      data = [s.seconds, s.values, s.supply];
      marks = s.marks;
      unit = s.unit === "ohm" ? "Ω" : s.unit;
      make(s.name);
    });
  }

  // The tables follow by and by, but not under a hand that is just typing, and never over an answer that is on its way.
  setInterval(function () {
    if (Date.now() - touched < 8000 || document.hidden || document.activeElement && document.activeElement.closest("#seen input, #seen select")) return;
    if (document.querySelector("#seen .htmx-request, #seen button:disabled")) return;
    window.htmx.ajax("GET", location.pathname, { source: "#seen", target: "#seen", swap: "innerHTML" });
  }, refreshEvery);
  document.addEventListener("input", function (e) { if (e.target.closest("#seen")) touched = Date.now(); });
  // A press is not lost to a table that comes anew under it: what was on its way then is left out, the next one shows it.
  document.addEventListener("pointerdown", function (e) { if (e.target.closest("#seen")) touched = Date.now(); });
  document.addEventListener("htmx:beforeSwap", function (e) {
    if (e.detail.requestConfig.verb === "get" && e.detail.target.id === "seen" && Date.now() - touched < 2000) e.detail.shouldSwap = false;
  });
  document.addEventListener("click", function () { if (window.AudioContext) audio = audio || new AudioContext(); });
  window.addEventListener("resize", function () { if (chart) chart.setSize(size()); });

  series().then(function () {
    var live = new EventSource(box.dataset.live);
    live.addEventListener("shown", shown);
    live.addEventListener("error", function () {
      if (live.readyState !== EventSource.CLOSED) return;
      var stage = document.getElementById("say");
      // Why it ended, where that was said, stays.
      if (stage.dataset.stage !== "trouble") document.getElementById("say-words").textContent = "Nothing is watched any more. What was seen stands under captures.";
      stage.dataset.stage = "ended";
      document.getElementById("say-shape").textContent = "■";
    });
  });
})();
