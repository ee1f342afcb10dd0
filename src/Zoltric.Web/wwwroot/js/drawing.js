// Pan, zoom, find and probe on a drawing. What is asked of the server goes through the form around it.
(function () {
  "use strict";

  var views = {};      // view box of each drawing, kept while it is redrawn
  var focused = null;  // what had the focus before the redraw
  var nextTip = "Red";

  function boards() { return Array.prototype.slice.call(document.querySelectorAll("[data-board] > svg")); }

  function whole(svg) { return { x: 0, y: 0, w: +svg.dataset.w, h: +svg.dataset.h }; }

  // The healthy machine beside the other one is seen through the same window.
  function key(svg) { return svg.id.replace("-healthy", ""); }

  function show(svg, v) {
    v.scale = svg.parentNode.getBoundingClientRect().width / v.w;
    views[key(svg)] = v;
    svg.setAttribute("viewBox", [v.x, v.y, v.w, v.h].join(" "));
  }

  // A drawing larger than its place starts at its upper left, at a size that can be read.
  function first(svg) {
    var box = svg.parentNode.getBoundingClientRect(), w = +svg.dataset.w, h = +svg.dataset.h;
    var scale = Math.max(Math.min(box.width / w, box.height / h), 0.85);
    return { x: 0, y: 0, w: box.width / scale, h: box.height / scale };
  }

  function prepare() {
    boards().forEach(function (svg) {
      var box = svg.viewBox.baseVal;
      if (!svg.dataset.w) { svg.dataset.w = box.width; svg.dataset.h = box.height; }
      svg.removeAttribute("width"); svg.removeAttribute("height");
      svg.setAttribute("preserveAspectRatio", "xMidYMid meet");
      var kept = views[key(svg)], place = svg.parentNode.getBoundingClientRect();
      show(svg, kept ? { x: kept.x, y: kept.y, w: place.width / kept.scale, h: place.height / kept.scale } : first(svg));
    });
    if (focused) {
      var again = document.querySelector(focused);
      if (again) again.focus({ preventScroll: true });
      focused = null;
    }
  }

  function zoom(svg, factor, px, py) {
    var v = views[key(svg)], r = svg.getBoundingClientRect(), all = whole(svg);
    var fx = px === undefined ? 0.5 : (px - r.left) / r.width, fy = py === undefined ? 0.5 : (py - r.top) / r.height;
    var w = Math.min(Math.max(v.w / factor, 120), all.w * 2);
    var h = w * v.h / v.w;
    show(svg, { x: v.x + (v.w - w) * fx, y: v.y + (v.h - h) * fy, w: w, h: h });
  }

  // Drawings side by side move together.
  function each(action) {
    var all = boards();
    if (!all.length) return;
    action(all[all.length - 1]);
    var v = views[key(all[all.length - 1])];
    all.slice(0, -1).forEach(function (svg) { if (key(svg) === key(all[all.length - 1])) show(svg, { x: v.x, y: v.y, w: v.w, h: v.h }); else action(svg); });
  }

  var pointers = {}, moved = false, last = null;

  document.addEventListener("pointerdown", function (e) {
    var board = e.target.closest("[data-board]");
    if (!board) return;
    pointers[e.pointerId] = { x: e.clientX, y: e.clientY };
    moved = false;
    last = board.querySelector("svg");
  });

  document.addEventListener("pointermove", function (e) {
    var p = pointers[e.pointerId];
    if (!p || !last) return;
    var ids = Object.keys(pointers);
    if (ids.length === 2) {
      var other = pointers[ids[0] === String(e.pointerId) ? ids[1] : ids[0]];
      var before = Math.hypot(p.x - other.x, p.y - other.y), now = Math.hypot(e.clientX - other.x, e.clientY - other.y);
      if (before > 5) each(function (svg) { zoom(svg, now / before, (e.clientX + other.x) / 2, (e.clientY + other.y) / 2); });
      moved = true;
    } else if (moved || Math.hypot(e.clientX - p.x, e.clientY - p.y) > 5) {
      each(function (svg) {
        var v = views[key(svg)], r = svg.getBoundingClientRect(), s = Math.max(v.w / r.width, v.h / r.height);
        show(svg, { x: v.x - (e.clientX - p.x) * s, y: v.y - (e.clientY - p.y) * s, w: v.w, h: v.h });
      });
      moved = true;
    } else return;
    p.x = e.clientX; p.y = e.clientY;
  });

  ["pointerup", "pointercancel"].forEach(function (name) {
    document.addEventListener(name, function (e) { delete pointers[e.pointerId]; });
  });

  document.addEventListener("wheel", function (e) {
    var board = e.target.closest && e.target.closest("[data-board]");
    if (!board) return;
    e.preventDefault();
    each(function (svg) { zoom(svg, e.deltaY < 0 ? 1.15 : 1 / 1.15, e.clientX, e.clientY); });
  }, { passive: false });

  function form() { return document.getElementById("circuit-form"); }

  function send(keep) {
    focused = keep || null;
    form().requestSubmit();
  }

  function operate(unit) {
    document.getElementById("move").value = unit.dataset.control;
    send('[data-tag="' + unit.dataset.tag + '"][data-control]');
  }

  function tip(which, terminal, keep) {
    var field = form().elements[which];
    if (!field) { which = "Red"; field = form().elements.Red; }
    field.value = terminal;
    nextTip = which === "Red" && form().elements.Black ? "Black" : "Red";
    send(keep);
  }

  function find(tag) {
    var unit = document.querySelector('.board [data-tag="' + CSS.escape(tag) + '"], .parts-list [data-tag="' + CSS.escape(tag) + '"]');
    if (!unit) return false;
    if (unit.tagName === "LI") { unit.scrollIntoView({ block: "center" }); unit.focus(); return true; }
    each(function (svg) {
      var u = svg.querySelector('[data-tag="' + CSS.escape(tag) + '"]'), b = u.getBBox(), v = views[key(svg)];
      show(svg, { x: b.x + b.width / 2 - v.w / 2, y: b.y + b.height / 2 - v.h / 2, w: v.w, h: v.h });
    });
    same(tag, true);
    return true;
  }

  // A coil and its contacts light up together.
  function same(tag, on) {
    document.querySelectorAll(".board .same").forEach(function (u) { u.classList.remove("same"); });
    if (on) document.querySelectorAll('.board [data-tag="' + CSS.escape(tag) + '"]').forEach(function (u) { u.classList.add("same"); });
  }

  document.addEventListener("pointerover", function (e) {
    var unit = e.target.closest && e.target.closest(".board [data-tag]");
    if (unit) same(unit.dataset.tag, true);
  });

  document.addEventListener("click", function (e) {
    var t = e.target.closest.bind(e.target), hit;
    if (moved && t("[data-board]")) { moved = false; return; }
    if ((hit = t("[data-zoom]"))) {
      each(function (svg) {
        if (hit.dataset.zoom === "fit") { var a = whole(svg); show(svg, a); } else zoom(svg, hit.dataset.zoom === "in" ? 1.3 : 1 / 1.3);
      });
    } else if ((hit = t("[data-save]"))) save(hit.dataset.save);
    else if ((hit = t("[data-clear]"))) { form().elements[hit.dataset.clear].value = ""; send(); }
    else if ((hit = t("[data-remove]"))) { document.getElementById(hit.dataset.remove).remove(); send(); }
    else if ((hit = t("[data-tip]"))) tip(hit.dataset.tip, hit.dataset.terminal);
    else if ((hit = t(".board .tip[data-terminal]"))) tip(nextTip, hit.dataset.terminal);
    else if ((hit = t(".board [data-wire]")) && form().elements.Meter.value === "clamp") tip("Red", hit.dataset.wire);
    else if ((hit = t(".board [data-control]"))) operate(hit);
  });

  document.addEventListener("keydown", function (e) {
    var unit = e.target.closest && e.target.closest(".board [data-control]");
    if (unit && (e.key === "Enter" || e.key === " ")) { e.preventDefault(); operate(unit); return; }
    var field = document.querySelector("[data-find]");
    if (!field) return;
    if (e.target === field && e.key === "Enter") { e.preventDefault(); find(field.value.trim().toUpperCase()) || find(field.value.trim()); return; }
    if (e.key === "/" && !/^(INPUT|TEXTAREA|SELECT)$/.test(e.target.tagName)) { e.preventDefault(); field.focus(); field.select(); }
  });

  document.addEventListener("change", function (e) {
    if (e.target.matches("[data-find]")) find(e.target.value.trim());
  });

  function save(kind) {
    var svg = boards().pop();
    if (!svg) return;
    var copy = svg.cloneNode(true), all = whole(svg);
    copy.setAttribute("viewBox", [0, 0, all.w, all.h].join(" "));
    copy.setAttribute("width", all.w); copy.setAttribute("height", all.h);
    var text = new XMLSerializer().serializeToString(copy);
    var blob = new Blob([text], { type: "image/svg+xml" });
    if (kind === "svg") { offer(blob, "circuit.svg"); return; }
    var image = new Image();
    image.onload = function () {
      var scale = Math.min(2, 8000 / Math.max(all.w, all.h)), canvas = document.createElement("canvas");
      canvas.width = all.w * scale; canvas.height = all.h * scale;
      var c = canvas.getContext("2d");
      c.fillStyle = "#fff"; c.fillRect(0, 0, canvas.width, canvas.height);
      c.drawImage(image, 0, 0, canvas.width, canvas.height);
      canvas.toBlob(function (png) { offer(png, "circuit.png"); });
      URL.revokeObjectURL(image.src);
    };
    image.src = URL.createObjectURL(blob);
  }

  function offer(blob, name) {
    var a = document.createElement("a");
    a.href = URL.createObjectURL(blob); a.download = name;
    document.body.appendChild(a); a.click(); a.remove();
    setTimeout(function () { URL.revokeObjectURL(a.href); }, 2000);
  }

  document.addEventListener("DOMContentLoaded", prepare);
  document.addEventListener("htmx:afterSwap", prepare);
  document.addEventListener("zoltric:drawn", prepare);
  window.addEventListener("resize", function () { each(function (svg) { show(svg, first(svg)); }); });
})();
