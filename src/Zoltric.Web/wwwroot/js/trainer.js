// The trainer's own meter: a tip on the drawing, or on a point of a place, then the other; a control is pressed where it is drawn.
// What is touched is written into the line, which stays there to be read and changed.
(function () {
  "use strict";

  function line() {
    var field = document.getElementById("what");
    // A colon with blanks around it parts the setup from the probe; one within a point does not.
    var parted = / : | :$|^: /.exec(field.value), at = parted ? parted.index : -1;
    var probe = parted ? field.value.slice(at).replace(/^ ?: ?/, "").trim() : "";
    return { field: field, setup: (parted ? field.value.slice(0, at) : field.value).trim(), words: probe ? probe.split(/\s+/) : [] };
  }

  function write(l) {
    l.field.value = l.setup + " : " + l.words.join(" ");
    var says = document.getElementById("touched");
    if (says) says.textContent = l.words.length > 2 ? "red on " + l.words[1] + ", black on " + l.words[2] : l.words.length > 1 ? "red on " + l.words[1] + ", black on the return" : "";
    document.querySelectorAll(".machine-drawing .tip").forEach(function (t) {
      t.classList.toggle("laid-red", l.words.length > 1 && t.dataset.terminal === l.words[1]);
      t.classList.toggle("laid-black", l.words.length > 2 && t.dataset.terminal === l.words[2]);
    });
    // Where the line is out of sight it stands at the foot, to be done from there.
    var bar = document.getElementById("touch-bar"), place = l.field.getBoundingClientRect();
    if (!bar) return;
    bar.hidden = place.bottom > 0 && place.top < window.innerHeight;
    bar.firstElementChild.textContent = l.field.value;
  }

  document.addEventListener("submit", function () {
    var bar = document.getElementById("touch-bar");
    if (bar && !bar.hidden) {
      bar.hidden = true;
      document.getElementById("work").scrollIntoView();
    }
  });

  function touch(point) {
    var l = line(), chosen = document.querySelector("[name=touch]:checked"), kind = chosen ? chosen.value : "V";
    l.words = l.words.length === 2 && l.words[0] === kind && l.words[1] !== point ? [kind, l.words[1], point] : [kind, point];
    write(l);
  }

  // The next position of a control, by the list that the form has.
  function press(name) {
    var l = line(), form = l.field.form, all = (form.dataset.controls || "").split(";"), entry = all.filter(function (c) { return c.split(":")[0] === name; })[0];
    if (!entry) return;
    var positions = entry.split(":")[1].split("|"), setup = l.setup.split(/[\s,]+/).filter(Boolean), found = -1;
    setup.forEach(function (w, i) { if (w.split("=")[0] === name) found = i; });
    var now = found < 0 ? positions[0] : setup[found].split("=")[1], next = positions[(positions.indexOf(now) + 1) % positions.length];
    if (found >= 0) setup.splice(found, 1);
    if (next !== positions[0]) setup.push(name + "=" + next);
    l.setup = setup.join(" ");
    write(l);
  }

  document.addEventListener("click", function (e) {
    if (!document.getElementById("what")) return;
    var t = e.target.closest.bind(e.target), hit;
    if ((hit = t(".machine-drawing .tip[data-terminal]"))) touch(hit.dataset.terminal);
    else if ((hit = t("[data-touch]"))) touch(hit.dataset.touch);
    else if ((hit = t(".machine-drawing [data-control]"))) press(hit.dataset.control);
  });

  document.addEventListener("keydown", function (e) {
    var unit = e.target.closest && e.target.closest(".machine-drawing [data-control]");
    if (unit && document.getElementById("what") && (e.key === "Enter" || e.key === " ")) { e.preventDefault(); press(unit.dataset.control); }
  });
})();
