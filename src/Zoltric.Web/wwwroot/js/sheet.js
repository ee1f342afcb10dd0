// The sheet editor: text on one side, problems and drawing on the other, both kept up as it is typed. Patterns asked value by value.
(function () {
  "use strict";

  function start() {
    var form = document.querySelector("[data-editor]"), field = document.getElementById("sheet-text");
    if (!form || !field || !window.SheetEditor) return;
    var token = form.querySelector('[name="__RequestVerificationToken"]').value, asked = 0;

    function post(url, more) {
      var data = new FormData();
      data.append("__RequestVerificationToken", token);
      data.append("Text", field.value);
      Object.keys(more || {}).forEach(function (k) { data.append(k, more[k]); });
      return fetch(url, { method: "POST", body: data }).then(function (r) { if (!r.ok) throw new Error(r.status); return r.json(); });
    }

    var editor = window.SheetEditor.open(field, {
      complete: function (text, at) {
        field.value = text;
        return post(form.dataset.complete, { at: at }).then(function (c) { return c.options.length ? c : null; }).catch(function () { return null; });
      },
      changed: function () {
        var mine = ++asked;
        post(form.dataset.editor).then(function (now) {
          if (mine !== asked) return;
          editor.mark(now.problems);
          list(now.problems);
          document.getElementById("sheet-counts").textContent = now.counts || "The drawing is of the last text that could be read.";
          if (now.svg) {
            document.getElementById("sheet-drawing").innerHTML = now.svg;
            document.dispatchEvent(new Event("zoltric:drawn"));
          }
        }).catch(function () { document.getElementById("sheet-counts").textContent = "Not connected: what you type is kept here until it can be checked."; });
      }
    });
    window.zoltricEditor = editor;

    function list(problems) {
      var box = document.getElementById("sheet-problems");
      box.replaceChildren();
      if (!problems.length) return;
      var ol = document.createElement("ol");
      ol.className = "problems";
      problems.slice(0, 30).forEach(function (p) {
        var li = document.createElement("li"), a = document.createElement("a"), strong = document.createElement("strong");
        li.className = p.severity;
        a.href = "#sheet-text"; a.dataset.line = p.line; a.dataset.column = p.column;
        a.textContent = "line " + p.line + ", column " + p.column;
        strong.textContent = p.severity === "error" ? " Error: " : " Warning: ";
        li.append(a, strong, p.message + (p.suggestion ? " " + p.suggestion.charAt(0).toUpperCase() + p.suggestion.slice(1) + (/[.?]$/.test(p.suggestion) ? "" : ".") : ""));
        if (p.replacement && p.found) {
          var mend = document.createElement("button");
          mend.type = "button"; mend.className = "quiet mend";
          mend.textContent = "Write " + p.replacement.split("\n")[0];
          mend.addEventListener("click", function () { take(p); });
          li.append(" ", mend);
        }
        ol.append(li);
      });
      box.append(ol);
    }

    // What was found may have moved since it was judged: then nothing is written over.
    function take(p) {
      var doc = editor.view.state.doc;
      if (p.line > doc.lines) return;
      var from = doc.line(p.line).from + p.column - 1, to = from + p.found.length;
      if (doc.sliceString(from, to) !== p.found) return;
      editor.view.dispatch({ changes: { from: from, to: to, insert: p.replacement } });
      editor.go(p.line, p.column);
    }

    document.addEventListener("click", function (e) {
      var place = e.target.closest("[data-column]");
      if (place) { e.preventDefault(); e.stopImmediatePropagation(); editor.go(+place.dataset.line, +place.dataset.column); }
    }, true);
  }

  // One question at a time; without script all of them stand there.
  function ask() {
    var questions = Array.prototype.slice.call(document.querySelectorAll("[data-question]"));
    var next = document.querySelector("[data-next-question]");
    if (!questions.length || !next) return;
    var at = 0, rest = Array.prototype.slice.call(next.parentNode.children).filter(function (b) { return b !== next && b.tagName === "BUTTON"; });
    function show() {
      questions.forEach(function (q, i) { q.hidden = i > at; });
      next.hidden = at === questions.length - 1;
      rest.forEach(function (b) { b.hidden = at < questions.length - 1; });
      document.querySelector(".asked-of").textContent = "Question " + (at + 1) + " of " + questions.length;
      var input = questions[at].querySelector("input");
      input.focus(); input.select();
    }
    function forward() { if (at < questions.length - 1) { at++; show(); return true; } return false; }
    next.addEventListener("click", forward);
    document.addEventListener("keydown", function (e) { if (e.key === "Enter" && e.target.closest("[data-question]") && forward()) e.preventDefault(); });
    show();
  }

  function filter() {
    var words = document.getElementById("pattern-filter"), family = document.getElementById("pattern-family");
    if (!words) return;
    function apply() {
      var asked = words.value.toLowerCase().split(/\s+/).filter(Boolean);
      document.querySelectorAll(".patterns li").forEach(function (li) {
        li.hidden = !asked.every(function (w) { return li.dataset.words.indexOf(w) >= 0; }) || (family.value && li.dataset.families.split(" ").indexOf(family.value) < 0);
      });
    }
    words.addEventListener("input", apply);
    family.addEventListener("change", apply);
  }

  document.addEventListener("DOMContentLoaded", function () { start(); ask(); filter(); });
})();
