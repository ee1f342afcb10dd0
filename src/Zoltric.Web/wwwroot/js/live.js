// What others keep in the job that is open: the server says that something stands otherwise, the screen fetches it.
(function () {
  "use strict";
  var source = null, touched = false, leaving = false;
  function strip() { return document.getElementById("live"); }
  function show() { window.location.replace(strip().dataset.page); }
  function heard(mark) {
    var s = strip();
    if (!s || leaving || mark === s.dataset.mark) return;
    // The trace puts what is new in the place of what stood.
    if (!s.dataset.page) { document.dispatchEvent(new CustomEvent("zoltric:mark")); return; }
    // Nothing moves under a hand that works here.
    if (touched) s.hidden = false; else show();
  }
  function listen() {
    var s = strip();
    if (!s || source || document.hidden || !window.EventSource) return;
    source = new EventSource(s.dataset.live);
    // One's own answer comes back by the page itself: it is given a moment.
    source.addEventListener("mark", function (e) { setTimeout(function () { heard(e.data); }, 400); });
  }
  // A screen that nobody looks at holds no line open.
  document.addEventListener("visibilitychange", function () {
    if (document.hidden && source) { source.close(); source = null; } else listen();
  });
  ["pointerdown", "keydown", "input"].forEach(function (n) { document.addEventListener(n, function () { touched = true; }, true); });
  document.addEventListener("submit", function () { leaving = !!(strip() && strip().dataset.page); });
  document.addEventListener("click", function (e) { if (strip() && strip().dataset.page && e.target.closest("[data-show-live]")) show(); });
  document.addEventListener("DOMContentLoaded", listen);
})();
