// What the trace screen does without asking the server: keys, the number pad, focus. Everything else is a form.
(function () {
  "use strict";

  function field() { return document.getElementById("text"); }

  function typing(target) { return target && /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName); }

  function typeValue() {
    var f = field();
    if (!f) return;
    f.value = (f.dataset.next || "") + " = ";
    f.focus();
    f.setSelectionRange(f.value.length, f.value.length);
  }

  // The pad writes the value into the reading line of the probe that is asked for.
  function pad(key) {
    var f = field();
    if (!f) return;
    if (!f.value && f.dataset.next) f.value = f.dataset.next + " = ";
    var unit = f.dataset.unit || "";
    if (key === "⌫") f.value = / = $/.test(f.value) ? "" : f.value.slice(0, -1);
    else if (key === "−") f.value += "-";
    else if (key === "mV") f.value += unit ? "m" + unit : "mV";
    else f.value += key;
  }

  document.addEventListener("click", function (e) {
    var key = e.target.closest("[data-key]");
    if (key) { pad(key.dataset.key); return; }
    if (e.target.closest("[data-type]")) { typeValue(); return; }
    if (e.target.closest("[data-print]")) { window.print(); return; }
    var place = e.target.closest("[data-column]");
    if (place) {
      e.preventDefault();
      var text = document.getElementById("sheet-text");
      var lines = text.value.split("\n");
      var at = lines.slice(0, place.dataset.line - 1).reduce(function (sum, l) { return sum + l.length + 1; }, 0) + (place.dataset.column - 1);
      text.focus();
      text.setSelectionRange(at, at + 1);
      text.scrollTop = (place.dataset.line - 8) * (text.scrollHeight / lines.length);
    }
  });

  // 1 2 3 answer the probe; any letter or "/" goes to the reading line; Escape clears and leaves it.
  document.addEventListener("keydown", function (e) {
    if (e.ctrlKey || e.metaKey || e.altKey) return;
    var f = field();
    if (e.key === "Escape" && f && e.target === f) { f.value = ""; f.blur(); return; }
    if (!f || typing(e.target)) return;
    if (/^[1-9]$/.test(e.key)) {
      var answer = document.querySelector('[data-answer="' + e.key + '"]');
      if (answer) { e.preventDefault(); answer.click(); }
    } else if (e.key === "/") { e.preventDefault(); f.focus(); }
    else if (/^[A-Za-z:]$/.test(e.key)) f.focus();
  });
})();
