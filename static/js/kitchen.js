// The stove: a tap counts once and is never lost, timers ring, the scale is read, the screen stays awake.
(() => {
  "use strict";
  const one = (selector) => document.querySelector(selector);
  const all = (selector) => [...document.querySelectorAll(selector)];

  // Every request that records something carries a token of its own: sent twice, it counts once.
  const token = () => [...crypto.getRandomValues(new Uint8Array(12))].map((byte) => byte.toString(16).padStart(2, "0")).join("");
  document.addEventListener("submit", (event) => { const box = event.target.querySelector?.("input[name=token]"); if (box) box.value = token(); }, true);

  // The server is gone: keep the taps in the order they came and send them again, until it answers.
  // They stand in this tab's store, so that a reload, or signing in again, loses none.
  const STORE = `open-gate-taps ${location.pathname}`;
  const kept = (() => { try { return JSON.parse(sessionStorage.getItem(STORE)) || []; } catch { return []; } })();
  const store = () => { try { sessionStorage.setItem(STORE, JSON.stringify(kept)); } catch { /* in this page's memory still */ } };
  let sending = false;
  const lost = (show, isSignedOut = false) => {
    const said = one("#stove-lost"), door = one("#stove-door");
    if (said) said.hidden = !show;
    if (door) door.hidden = !isSignedOut;
  };
  const csrf = () => document.cookie.match(/(?:^|; )csrftoken=([^;]+)/)?.[1] || JSON.parse(document.body.getAttribute("hx-headers"))["X-CSRFToken"];
  // Who signs in again in another tab gets a new token: what is under way with the old one is refused, and goes again with the new.
  const isOverrun = (status, sent) => status === 403 && sent !== csrf();
  const keep = (event) => {
    const config = event.detail.requestConfig, status = event.detail.xhr?.status || 0;
    if (config.verb !== "post" || (status && status !== 401 && status < 500 && !isOverrun(status, config.headers["X-CSRFToken"]))) return;
    const values = Object.fromEntries(config.formData);
    delete values.csrfmiddlewaretoken;
    kept.push({ path: config.path, values });
    store();
    lost(true, status === 401);
  };
  document.addEventListener("htmx:sendError", keep);
  document.addEventListener("htmx:responseError", keep);
  if (kept.length) lost(true);
  setInterval(async () => {
    if (sending || !kept.length) return;
    sending = true;
    try {
      const { path, values } = kept[0], token = csrf();
      const answer = await fetch(path, { method: "POST", headers: { "HX-Request": "true", "X-CSRFToken": token }, body: new URLSearchParams(values) });
      if (answer.status === 401) lost(true, true);
      else if (answer.status < 500 && !isOverrun(answer.status, token)) {
        kept.shift();
        store();
        if (!kept.length) { lost(false); window.htmx.ajax("GET", location.pathname + location.search, { target: "#stove", swap: "outerHTML" }); }
      }
    } catch { /* still gone: the next round tries again */ }
    sending = false;
  }, 1500);

  // Timers: the end stands in the page, so a reload changes nothing. When one ends it says so and sounds.
  const rung = new Set();
  let sound = null;
  document.addEventListener("pointerdown", () => { sound ||= window.AudioContext ? new AudioContext() : null; }, { once: true });
  document.addEventListener("keydown", () => { sound ||= window.AudioContext ? new AudioContext() : null; }, { once: true });
  const ring = () => {
    if (!sound) return;
    for (let beat = 0; beat < 3; beat += 1) {
      const tone = sound.createOscillator(), loud = sound.createGain(), at = sound.currentTime + beat * 0.45;
      tone.frequency.value = 740;
      loud.gain.setValueAtTime(0.2, at);
      loud.gain.exponentialRampToValueAtTime(0.001, at + 0.4);
      tone.connect(loud).connect(sound.destination);
      tone.start(at);
      tone.stop(at + 0.4);
    }
  };
  const clock = (seconds) => {
    const hours = Math.floor(seconds / 3600), minutes = Math.floor((seconds % 3600) / 60), rest = String(seconds % 60).padStart(2, "0");
    return hours ? `${hours}:${String(minutes).padStart(2, "0")}:${rest}` : `${minutes}:${rest}`;
  };
  const tick = () => all(".timers [data-ends]").forEach((timer) => {
    const left = Math.ceil((Number(timer.dataset.ends) - Date.now()) / 1000);
    timer.querySelector(".timer-left").textContent = left > 0 ? clock(left) : "done";
    timer.classList.toggle("is-done", left <= 0);
    if (left <= 0 && !rung.has(timer.dataset.ends)) {
      rung.add(timer.dataset.ends);
      const said = one("#timer-said");
      if (said) said.textContent = `Time is up: ${timer.textContent.replace(/\s+/g, " ").trim()}`;
      ring();
    }
  });
  setInterval(tick, 250);

  // The scale: asked a little more than once a second while the page is looked at.
  const weigh = async () => {
    const url = one("#stove")?.dataset.scale;
    if (!url || document.hidden) return;
    let shown = { state: "gone", words: "The kitchen does not answer." };
    try { const answer = await fetch(url); if (answer.ok) shown = await answer.json(); } catch { /* shown as gone */ }
    const box = one(".scale-box"), grams = one("#scale-grams"), words = one("#scale-words");
    if (!box || !grams) return;
    box.classList.toggle("is-moving", shown.state === "moving");
    box.classList.toggle("is-gone", shown.state === "gone" || shown.state === "over");
    grams.textContent = "grams" in shown ? shown.words : "no reading";
    words.textContent = "grams" in shown ? { steady: "steady", moving: "settling", over: "more than it can weigh" }[shown.state] : shown.words;
    all("[data-scale-take]").forEach((button) => { button.disabled = shown.state === "gone"; });
  };
  setInterval(weigh, 800);
  weigh();

  // The screen stays on while somebody cooks, where the browser can do that.
  const stayAwake = () => { if (!document.hidden) navigator.wakeLock?.request("screen").catch(() => {}); };
  stayAwake();
  document.addEventListener("visibilitychange", stayAwake);

  const keys = { ArrowRight: "[data-key-after]", ArrowLeft: "[data-key-before]", w: "[data-key-weigh]:not(:disabled)", "+": "[data-key-more]", "-": "[data-key-less]", x: "[data-key-skip]", t: "[data-key-timer]", p: "[data-key-spend]" };
  document.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey || event.target.matches("input, textarea, select")) return;
    const target = keys[event.key] && one(keys[event.key]);
    if (target) { target.click(); event.preventDefault(); }
  });
})();
