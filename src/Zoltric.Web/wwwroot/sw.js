// Keeps what was opened for places without network. Answers are kept by the page itself; locks and proofs of dead are never.
"use strict";
var PAGES = "zoltric-pages", FILES = "zoltric-files", NONE = "/no-network", PATIENCE = 6000;

self.addEventListener("install", function (e) {
  e.waitUntil(caches.open(PAGES).then(keepNone).then(function () { return self.skipWaiting(); }));
});
// What is shown where nothing is kept; where it cannot be had now it is asked for again with the next page.
function keepNone(cache) {
  return cache.match(NONE).then(function (kept) { return kept || cache.add(NONE); }).catch(function () { /* with the next page */ });
}

function claim(e) { e.waitUntil(self.clients.claim()); }
self.addEventListener("activate", claim);
self.addEventListener("message", claim);

function isFile(url) { return /^\/(css|js|lib|fonts)\//.test(url.pathname) || url.pathname === "/zoltric.svg"; }
function isKept(url) { return url.pathname === "/" || /^\/jobs\/\d+\/(trace|report)$/.test(url.pathname); }
function key(url) { return url.origin + url.pathname; }

// A page that comes out of the cache says so: the state of locks on it is that of another time.
function marked(kept) {
  return kept.text().then(function (t) {
    return new Response(t.replace("<body", "<body data-from-phone=\"" + (kept.headers.get("date") || "") + "\""), { headers: { "Content-Type": "text/html; charset=utf-8" } });
  });
}

function page(request, url) {
  return caches.open(PAGES).then(function (cache) {
    var late = new Promise(function (_, no) { setTimeout(no, PATIENCE); });
    var asked = fetch(request).then(function (r) {
      keepNone(cache);
      if (r.ok && !r.redirected && isKept(url)) return cache.put(key(url), r.clone()).then(function () { return r; });
      return r;
    });
    return Promise.race([asked, late]).catch(function () {
      return cache.match(key(url)).then(function (kept) {
        if (kept) return marked(kept);
        // Slow is not gone: what is on its way may still come.
        return asked.catch(function () { return cache.match(NONE); });
      });
    });
  });
}

// A file with its version in the address never changes; any other is shown as kept and fetched anew beside.
function file(request, url) {
  return caches.open(FILES).then(function (cache) {
    function fresh() {
      return fetch(request).then(function (r) {
        if (r.ok) cache.put(request, r.clone()).then(function () { return cache.keys(); }).then(function (keys) {
          // Of each file the newest stays.
          keys.forEach(function (k) { if (k.url !== request.url && new URL(k.url).pathname === url.pathname) cache.delete(k); });
        });
        return r;
      });
    }
    return cache.match(request).then(function (kept) {
      if (!kept) return fresh();
      if (!url.search) fresh().catch(function () { /* no network: what is kept does */ });
      return kept;
    });
  });
}

self.addEventListener("fetch", function (e) {
  var url = new URL(e.request.url);
  if (e.request.method !== "GET" || url.origin !== location.origin) return;
  if (e.request.mode === "navigate") e.respondWith(page(e.request, url));
  else if (isFile(url)) e.respondWith(file(e.request, url));
});
