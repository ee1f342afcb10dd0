// Answers given where there is no network: they wait on this phone and are sent in their order, once each, when it is back.
(function () {
  "use strict";
  var KEPT = "zoltric-waiting", NOT = "zoltric-not-kept", again = null, sending = false, shown = [], out = false;

  function read(key, usual) { try { return JSON.parse(localStorage.getItem(key)) || usual; } catch (e) { return usual; } }
  function write(key, value) { try { localStorage.setItem(key, JSON.stringify(value)); return true; } catch (e) { return false; } }
  function column() { return document.getElementById("order-column"); }
  function here() { var c = column(); return c ? c.dataset.job : null; }
  function mine() { var job = here(); return read(KEPT, []).filter(function (w) { return w.job === job; }); }

  // The next orders, fetched while there is a network and nothing else is asked for.
  var ahead = null, soon = null;
  function wanted() {
    var how = null;
    try { how = localStorage.getItem("zoltric-ahead"); } catch (e) { /* private windows forget */ }
    return how === "on" || how !== "off" && window.innerWidth <= 900;
  }
  function forgetAhead(but) {
    Object.keys(localStorage).forEach(function (k) { if (/^zoltric-ahead-/.test(k) && but.indexOf(k.slice(14)) < 0) localStorage.removeItem(k); });
  }
  function fetchAhead() {
    var c = column();
    if (!c || !c.dataset.ahead || c.dataset.waits !== "true" || !wanted() || mine().length) return;
    var url = c.dataset.ahead, job = c.dataset.job;
    fetch(url, { headers: { Accept: "application/json" } })
      .then(function (r) { return r.ok ? r.json() : null; })
      // Of this job and of those whose answers wait: a phone's storage is small, and what waits must find room in it.
      .then(function (tree) { if (tree && here() === job && !mine().length) { ahead = tree; forgetAhead(read(KEPT, []).map(function (w) { return w.job; })); write("zoltric-ahead-" + job, tree); document.body.dataset.ahead = tree.answers.length; } })
      .catch(function () { /* there is none now */ });
  }
  function later() {
    // What was worked out for this very state of the job still holds.
    var live = document.getElementById("live"), kept = here() && read("zoltric-ahead-" + here(), null);
    ahead = kept && live && kept.mark === live.dataset.mark ? kept : null;
    if (!ahead) delete document.body.dataset.ahead;
    clearTimeout(soon);
    soon = setTimeout(fetchAhead, 800);
  }

  // What was given: the branch of the same line, else of the nearest value in the same unit.
  function value(line) {
    var m = /= *(-?[0-9.]+) *([kmMuµ]?)([a-zA-ZΩ]*)$/.exec(line);
    return m ? +m[1] * ({ k: 1e3, M: 1e6, m: 1e-3, u: 1e-6, "µ": 1e-6 }[m[2]] || 1) : null;
  }
  function probe(line) { return line.slice(0, line.lastIndexOf("=")).replace(/\s+/g, ""); }
  function branch(node, line) {
    var answers = (node && node.answers) || [], same = answers.find(function (a) { return a.line === line; });
    if (same) return same.then;
    var v = value(line), best = null;
    answers.forEach(function (a) {
      var x = value(a.line);
      if (v === null || x === null || probe(a.line) !== probe(line)) return;
      if (!best || Math.abs(x - v) < best.off) best = { off: Math.abs(x - v), then: a.then };
    });
    return best && best.then;
  }

  function put(node) {
    var c = column(), setup = document.getElementById("setup"), text = document.getElementById("text");
    if (!c) return;
    if (node) {
      c.innerHTML = node.order;
      if (setup) { setup.innerHTML = node.setup; htmx.process(setup); }
    } else {
      c.innerHTML = "<section class='order'><h2 id='order-head' class='kicker'>Kept on this phone</h2><p></p><p>The next order comes with the network. Readings of your own can still be given below.</p></section>";
      c.querySelector("p").textContent = (read(KEPT, []).pop() || { text: "" }).text;
    }
    c.dataset.waits = node ? String(node.waits) : c.dataset.low;
    htmx.process(c);
    if (text) {
      text.value = "";
      text.dataset.next = node && node.line || "";
      text.dataset.unit = node && node.unit || "";
      text.placeholder = "setup : probe = result";
      var form = text.form;
      form.elements.asked.value = text.dataset.next;
      form.elements.token.value = crypto.getRandomValues(new Uint32Array(4)).join("");
    }
  }

  function keep(given) {
    var all = read(KEPT, []), node = branch(ahead, given.text);
    all.push(given);
    if (!write(KEPT, all)) return false;
    shown.push({ order: column().innerHTML, setup: document.getElementById("setup").innerHTML, ahead: ahead, waits: column().dataset.waits });
    ahead = node || null;
    put(node);
    say();
    retry();
    return true;
  }

  function takeBack() {
    var all = read(KEPT, []), before = shown.pop();
    all.splice(all.map(function (w) { return w.job === here(); }).lastIndexOf(true), 1);
    write(KEPT, all);
    if (before) {
      ahead = before.ahead;
      column().innerHTML = before.order;
      document.getElementById("setup").innerHTML = before.setup;
      column().dataset.waits = before.waits;
      htmx.process(column());
    }
    say();
  }

  // The strip: what waits, and what the server did not take.
  function say(done) {
    var strip = document.getElementById("waiting"), all = read(KEPT, []), not = read(NOT, []);
    if (!strip) return;
    var old = document.body.dataset.fromPhone !== undefined;
    strip.hidden = !all.length && !not.length && !done && !old;
    strip.dataset.count = all.length;
    strip.textContent = "";
    function add(tag, text, css) { var e = document.createElement(tag); e.textContent = text; if (css) e.className = css; strip.appendChild(e); return e; }
    if (old) add("span", "◇ No network: this page is as it was opened" + (document.body.dataset.fromPhone ? " at " + new Date(document.body.dataset.fromPhone).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit", hour12: false }) : "") + ". What is locked or live now it does not know.");
    if (done) add("span", "◆ " + (done === 1 ? "1 reading that waited is kept." : done + " readings that waited are kept."));
    if (all.length) {
      add("span", (out ? "◇ Sign in, and they are sent. " : "◇ No network. ") + (all.length === 1 ? "1 reading waits" : all.length + " readings wait") + " on this phone.");
      add("button", "Send now", "keep").addEventListener("click", flush);
      if (shown.length && mine().length) add("button", "Take back", "quiet").addEventListener("click", takeBack);
    }
    if (not.length) {
      add("span", "✕ Not kept: " + not.map(function (n) { return n.text + " (" + n.why + ")"; }).join("; "));
      add("button", "I have seen it", "keep").addEventListener("click", function () { write(NOT, []); say(); });
    }
  }

  function retry() {
    clearTimeout(again);
    if (read(KEPT, []).length) again = setTimeout(flush, 4000);
  }

  // One after the other, each with the token of its own order: what had arrived already is not written twice.
  function flush() {
    var first = read(KEPT, [])[0], sent = 0;
    if (!first || sending) return;
    sending = true;
    function token(page) { return fetch(page, { headers: { Accept: "text/html" } }).then(function (r) {
      out = r.redirected;
      if (!r.ok || out) throw new Error("not in");
      return r.text();
    }).then(function (t) { return new DOMParser().parseFromString(t, "text/html").querySelector("[name=__RequestVerificationToken]").value; }); }
    function one() {
      var w = read(KEPT, [])[0];
      if (!w) return Promise.resolve();
      return token(w.page).then(function (proof) {
        var body = new URLSearchParams({ text: w.text, asked: w.asked || "", token: w.token, given: w.at, __RequestVerificationToken: proof });
        return fetch(w.page + "?handler=Reading", { method: "POST", body: body, headers: { "HX-Request": "true" } });
      }).then(function (r) {
        var said = r.headers.get("Zoltric-Kept");
        if (!said) throw new Error("no answer");
        var all = read(KEPT, []);
        all.shift();
        write(KEPT, all);
        if (said === "yes") sent++;
        else write(NOT, read(NOT, []).concat([{ text: w.text, why: decodeURIComponent(said) }]));
        return one();
      });
    }
    one().catch(function () { /* still none: they go on waiting */ }).then(function () {
      sending = false;
      say(sent || null);
      if (!read(KEPT, []).length && column()) {
        shown = [];
        htmx.ajax("GET", location.pathname + location.search, { target: "#trace", swap: "innerHTML" });
      }
      retry();
    });
  }

  function given(config) {
    var p = config.parameters, text = p.get ? p.get("text") : p.text;
    // A bare value is of the order on the screen.
    var order = document.getElementById("order"), asked = (p.get ? p.get("asked") : p.asked) || (order && order.dataset.line) || "";
    if (text && asked && /^ *-?[0-9.,]+ *[a-zA-ZµΩ]*\??$|^ *OL *$/.test(text)) text = asked + " = " + text.trim();
    return { job: here(), page: location.pathname, text: text, asked: asked, token: p.get ? p.get("token") : p.token, at: new Date().toISOString() };
  }
  // Where mains stand on the machine, only the order's own reading may wait.
  function mayWait(g) {
    var c = column();
    return Boolean(g.text && g.token) && c.dataset.waits === "true" && (c.dataset.low === "true" || g.asked.replace(/\s+/g, "") === probe(g.text));
  }
  function isReading(config) { return config.verb === "post" && /handler=Reading/i.test(config.path) && column(); }

  function noNetwork(e) {
    var config = e.detail.requestConfig;
    if (!config || !isReading(config)) return;
    var g = given(config);
    if (mayWait(g) && keep(g)) e.detail.waits = true;
  }
  document.addEventListener("htmx:sendError", noNetwork);
  document.addEventListener("htmx:timeout", noNetwork);
  // Behind those that wait, no other goes first.
  document.addEventListener("htmx:beforeRequest", function (e) {
    if (e.defaultPrevented || !isReading(e.detail.requestConfig) || !(mine().length || sending)) return;
    e.preventDefault();
    if (sending) return;
    var g = given(e.detail.requestConfig), bar = document.getElementById("not-sent");
    if (mayWait(g)) keep(g);
    else if (bar) bar.hidden = false;
  });
  document.addEventListener("htmx:afterSettle", function (e) { if (e.target.id === "trace") later(); });
  window.addEventListener("online", flush);
  // What was opened is kept on the phone, where the server's certificate is trusted.
  // A page that was on its way while the worker began is not the worker's yet: it asks to be.
  if (location.protocol === "https:" && navigator.serviceWorker) {
    navigator.serviceWorker.register("/sw.js").catch(function () { /* not trusted, or cut off on its way: the next page asks again */ });
    navigator.serviceWorker.ready.then(function (r) { if (!navigator.serviceWorker.controller) r.active.postMessage("claim"); });
  }
  document.addEventListener("submit", function (e) {
    if (!/sign-out/.test(e.target.action) || !window.caches) return;
    // Nothing of the job stays on a phone that is handed on; answers that wait do, since they are nowhere else.
    caches.delete("zoltric-pages");
    forgetAhead([]);
  });
  function keptPages() {
    var list = document.getElementById("kept-pages"), again = document.getElementById("try-again");
    if (!list) return;
    again.addEventListener("click", function () { location.reload(); });
    if (window.caches) caches.open("zoltric-pages").then(function (c) { return c.keys(); }).then(function (keys) {
      var pages = keys.map(function (k) { return new URL(k.url).pathname; }).filter(function (p) { return p !== "/no-network"; }).sort();
      if (!pages.length) return;
      list.textContent = "";
      pages.forEach(function (p) {
        var a = document.createElement("a"), li = document.createElement("li"), job = /^\/jobs\/(\d+)\/(\w+)/.exec(p);
        a.href = p; a.className = "quiet"; a.textContent = job ? "Job " + job[1] + ", " + job[2] : "Bench";
        li.appendChild(a); list.appendChild(li);
      });
    });
  }
  document.addEventListener("DOMContentLoaded", function () {
    keptPages();
    if (read(KEPT, []).length) {
      // Opened again without network: where the readings that wait have led.
      var job = here(), at = job && read("zoltric-ahead-" + job, null);
      if (at && mine().length) { mine().forEach(function (w) { at = branch(at, w.text) || null; }); ahead = at; put(at); }
      flush();
    } else later();
    say();
  });
})();
