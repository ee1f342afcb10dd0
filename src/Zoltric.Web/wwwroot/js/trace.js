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
    if (key === "AC") { f.value = ""; return; }
    if (key === "⌫") f.value = / = $/.test(f.value) ? "" : f.value.slice(0, -1);
    else if (key === "−") f.value += "-";
    else if (key === "mV") f.value += unit ? "m" + unit : "mV";
    else if (key === "k" || key === "M") f.value += key + (unit === "ohm" || !unit ? "ohm" : unit);
    else f.value += key;
    // What is being typed stays in sight behind a long setup.
    f.scrollLeft = f.scrollWidth;
  }

  // A line's setup up to its colon, and what follows: the colon stands alone, that of a pin, X2:1b, does not.
  function parts(line) {
    var colon = /(^|\s):(\s|$)/.exec(line), end = colon ? colon.index + colon[0].lastIndexOf(":") + 1 : 0;
    return { setup: line.slice(0, end) || ":", probe: line.slice(end).trim() };
  }

  // The setup that the chips show, as it is written before the colon; the order's own where they were left alone.
  function setup() {
    var chips = Array.prototype.slice.call(document.querySelectorAll("[data-chip]"));
    if (!chips.some(function (c) { return c.dataset.changed; })) {
      return parts((field() && field().dataset.next) || ":").setup;
    }
    return chips.filter(function (c) { return c.value !== c.dataset.rest; }).map(function (c) { return c.dataset.chip + "=" + c.value; }).join(" ") + " :";
  }

  // A station that is touched gets a reading of its own.
  function at(station) {
    var f = field();
    if (!f) return;
    var verb = /:\s*VAC\b/.test(f.dataset.next || "") || f.dataset.verb === "VAC" ? "VAC" : "V";
    f.value = (setup() + " " + verb + " " + station + " = ").replace(/^ /, "");
    f.focus();
    f.setSelectionRange(f.value.length, f.value.length);
  }

  document.addEventListener("change", function (e) {
    if (!e.target.matches("[data-chip]")) return;
    e.target.dataset.changed = "1";
    e.target.closest(".chip").classList.toggle("moved", e.target.value !== e.target.dataset.rest);
    var f = field(), probe = f && f.dataset.next ? parts(f.dataset.next).probe : "";
    if (f) { f.value = (setup() + " " + probe + (probe ? " = " : " ")).trimStart(); }
  });

  // The pad goes with the field's focus: what stands above it would move away from under the finger.
  document.addEventListener("mousedown", function (e) { if (e.target.closest(".reading-bar .problem button")) e.preventDefault(); });
  document.addEventListener("click", function (e) {
    var station = e.target.closest("[data-station]");
    if (station) { at(station.dataset.station); return; }
    var repeat = e.target.closest("[data-repeat]");
    if (e.target.closest("[data-dismiss]")) { document.getElementById("problem").hidden = true; return; }
    if (repeat && field()) { document.getElementById("problem").hidden = true; field().value = repeat.dataset.repeat + " = "; field().focus(); return; }
    var key = e.target.closest("[data-key]");
    if (key) { pad(key.dataset.key); return; }
    if (e.target.closest("[data-type]")) { typeValue(); return; }
    if (e.target.closest("[data-print]")) { window.print(); return; }
    var place = e.target.closest("[data-column]");
    if (place) {
      e.preventDefault();
      var text = document.getElementById("sheet-text");
      var lines = text.value.split("\n");
      var start = lines.slice(0, place.dataset.line - 1).reduce(function (sum, l) { return sum + l.length + 1; }, 0) + (place.dataset.column - 1);
      text.focus();
      text.setSelectionRange(start, start + 1);
      text.scrollTop = (place.dataset.line - 8) * (text.scrollHeight / lines.length);
    }
  });

  // While an answer is on its way no other is taken; the screen says so.
  function busy(on) {
    var trace = document.getElementById("trace");
    if (trace) trace.setAttribute("aria-busy", on ? "true" : "false");
  }
  document.addEventListener("htmx:beforeRequest", function (e) {
    var trace = document.getElementById("trace");
    // It waits on this phone instead.
    if (e.defaultPrevented) return;
    if (!trace || e.detail.target !== trace || e.detail.requestConfig.verb !== "post") return;
    if (trace.getAttribute("aria-busy") === "true") { e.preventDefault(); return; }
    busy(true);
  });
  document.addEventListener("htmx:afterRequest", function () { busy(false); });

  // What comes in its place stands where it stood: the page does not jump under the thumb. Where what to set is in view it stays so,
  // however much there is to set; else the order stays.
  var stood = null, setStood = null;
  function setting() { return document.querySelector("#trace .setup-bar"); }
  document.addEventListener("htmx:beforeSwap", function (e) {
    if (e.target.id !== "trace") return;
    var head = document.getElementById("order-head"), set = setting();
    stood = head ? head.getBoundingClientRect().top : null;
    setStood = set && set.getBoundingClientRect().top >= 0 ? set.getBoundingClientRect().top : null;
  });
  document.addEventListener("htmx:afterSettle", function (e) {
    // On a phone the number pad makes way for the answers once a value is kept; a refused one stays in hand.
    var line = e.target.id === "trace" && field();
    if (line && document.activeElement === line && window.innerWidth <= 900 && !line.getAttribute("value")) line.blur();
    var head = e.target.id === "trace" && document.getElementById("order-head");
    if (!head || stood === null) return;
    var set = setting();
    if (set && setStood !== null && stood <= window.innerHeight / 2) {
      window.scrollBy({ top: set.getBoundingClientRect().top - setStood, behavior: "instant" });
      stood = null;
      return;
    }
    // An order that was out of sight is brought into it.
    var wanted = stood < 0 || stood > window.innerHeight / 2 ? 8 : stood;
    window.scrollBy({ top: head.getBoundingClientRect().top - wanted, behavior: "instant" });
    stood = null;
  });

  // What another keeps in the job: who watches sees it at once, who has the job in hand is told, and the order under the thumb stays.
  function strip() { return document.getElementById("live"); }
  function show() {
    var s = strip();
    if (s && s.dataset.here) htmx.ajax("GET", s.dataset.here, { target: "#trace", swap: "innerHTML" });
  }
  function heard() {
    var s = strip(), trace = document.getElementById("trace");
    if (trace.getAttribute("aria-busy") === "true") return;
    if (s.dataset.watching === "true" && !(field() && field().value)) show(); else s.hidden = false;
  }
  document.addEventListener("zoltric:mark", heard);
  document.addEventListener("click", function (e) { if (e.target.closest("[data-show-live]")) show(); });

  // 1 2 3 answer the probe; any letter or "/" goes to the reading line; Escape clears and leaves it.
  document.addEventListener("keydown", function (e) {
    if (e.ctrlKey || e.metaKey || e.altKey) return;
    var f = field();
    if (e.key === "Escape" && f && e.target === f) { f.value = ""; f.blur(); return; }
    // A word is asked for: a digit in the empty line is its key, not a value.
    if (f && e.target === f && !f.value && !f.dataset.unit && /^[1-9]$/.test(e.key)) {
      var word = document.querySelector('[data-answer="' + e.key + '"]:not([data-type])');
      if (word) { e.preventDefault(); word.click(); return; }
    }
    // Enter in the empty line opens it at the probe that is asked for.
    if (f && e.target === f && !f.value && f.dataset.unit && e.key === "Enter") { e.preventDefault(); typeValue(); return; }
    var station = e.target.closest && e.target.closest("[data-station]");
    if (station && (e.key === "Enter" || e.key === " ")) { e.preventDefault(); at(station.dataset.station); return; }
    if (!f || typing(e.target) || e.target.isContentEditable) return;
    if (e.key === "MediaPlayPause" || (e.key === "Enter" && !e.target.closest("button, a, summary, [role=button]"))) { e.preventDefault(); typeValue(); return; }
    var press = { u: "[data-undo]", z: "[data-zoom-volts]", o: "[data-ohms]", a: "[data-gate]" }[e.key];
    if (press) { var b = document.querySelector(press); if (b) { e.preventDefault(); b.click(); } return; }
    if (e.key === "l") {
      var lanes = Array.prototype.slice.call(document.querySelectorAll(".lane-box")), now = lanes.findIndex(function (x) { return x.classList.contains("chosen"); });
      var link = document.querySelector('[data-lane="' + (now + 1) % lanes.length + '"]');
      if (link) { e.preventDefault(); link.click(); }
      return;
    }
    if (/^[1-9]$/.test(e.key)) {
      var answer = document.querySelector('[data-answer="' + e.key + '"]');
      if (answer) { e.preventDefault(); answer.click(); }
    } else if (e.key === "/") { e.preventDefault(); f.focus(); }
    else if (/^[A-Za-z:]$/.test(e.key)) f.focus();
  });
})();
