// A procedure's text beside what is understood of it: a tap on a box of the chart, or on a line that does not read, goes there in the text.
(function () {
  "use strict";

  document.addEventListener("click", function (e) {
    var at = e.target.closest("[data-line],[data-step]"), field = document.getElementById("procedure-text");
    if (!at || !field) return;
    var lines = field.value.split("\n");
    var line = at.dataset.line ? Number(at.dataset.line) - 1
      : lines.findIndex(function (l) { var m = /^\s*step\s+(\S+)/.exec(l); return m && m[1] === at.dataset.step; });
    if (line < 0 || line >= lines.length) return;
    e.preventDefault();
    var details = field.closest("details");
    if (details) details.open = true;
    var start = lines.slice(0, line).reduce(function (sum, l) { return sum + l.length + 1; }, 0);
    field.focus();
    field.setSelectionRange(start, start + lines[line].length);
    field.scrollTop = Math.max(0, field.scrollHeight * (line / lines.length) - field.clientHeight / 3);
  });
})();
