// Keys. Every one has a control on the page that does the same; this file only presses it.
(() => {
  "use strict";
  const all = (selector) => [...document.querySelectorAll(selector)];
  const press = (selector) => { const target = document.querySelector(selector); if (target) { target.click(); return true; } return false; };
  const focusOn = (selector) => { const target = document.querySelector(selector); if (!target) return false; const fold = target.closest("details"); if (fold) fold.open = true; target.focus(); target.select?.(); return true; };

  const step = (by) => {
    const stops = all("[data-stop]");
    if (!stops.length) return false;
    const now = stops.findIndex((stop) => stop === document.activeElement || stop.closest("[data-row]")?.contains(document.activeElement));
    const chosen = stops.findIndex((stop) => stop.closest("[data-row]")?.classList.contains("is-chosen"));
    const from = now >= 0 ? now : chosen;
    const next = stops[Math.min(stops.length - 1, Math.max(0, from < 0 ? 0 : from + by))];
    next.focus();
    next.scrollIntoView({ block: "nearest" });
    return true;
  };

  const watch = (by) => {
    const gates = all("[data-gate]");
    const now = gates.findIndex((gate) => gate.getAttribute("aria-pressed") === "true");
    const next = gates[(now + by + gates.length) % gates.length];
    if (!next) return false;
    next.click();
    return true;
  };

  const inRow = (selector) => {
    const row = document.activeElement?.closest("[data-row]") || document.querySelector("[data-row].is-open") || document.querySelector("[data-row][data-doubt]");
    const target = row?.querySelector(selector);
    if (target) { target.click(); return true; }
    return false;
  };

  // Accepting leads on to the next doubtful line; who steps on by habit right then stays on it.
  let accepted = false, led = false;
  document.addEventListener("click", (event) => { if (event.target.closest("[data-accept], [data-answer]")) accepted = true; });

  // Of the steps, the one the hands are on; else the first.
  const editStep = () => {
    const row = document.activeElement?.closest("[data-step]") || document.querySelector("[data-step]:has(.is-lit)") || document.querySelector("[data-step]:has([data-edit])");
    const target = row?.querySelector("[data-edit]");
    if (target) target.click();
    return Boolean(target);
  };

  const keys = {
    e: editStep,
    "/": () => focusOn("#find"),
    "?": () => press(".to-keys"),
    j: () => step(1),
    k: () => step(-1),
    ArrowDown: () => step(1),
    ArrowUp: () => step(-1),
    a: () => inRow("[data-accept]"),
    o: () => inRow("[data-open]"),
    s: () => focusOn("[data-key-s]") || inRow("[data-open]"),
    g: () => focusOn("[data-key-g]"),
    n: () => press("[data-key-n]"),
    r: () => press("[data-key-r]"),
    w: () => press("[data-key-w]"),
    u: () => press("[data-key-u]:not(:disabled)"),
    U: () => press("[data-key-redo]:not(:disabled)"),
    "[": () => watch(-1),
    "]": () => watch(1),
  };

  document.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const typing = event.target.matches("input:not([type=checkbox]), textarea, select");
    if (event.key === "Escape" && typing) { event.target.blur(); return; }
    if (typing) return;
    const isThere = led && ["j", "ArrowDown"].includes(event.key);
    led = false;
    if (isThere) { event.preventDefault(); return; }
    if (/^[1-9]$/.test(event.key)) {
      const number = `[data-choice="${event.key}"]`;
      const answer = document.activeElement?.closest("[data-row]")?.querySelector(`[data-answer="${event.key}"]`);
      const choice = answer || document.querySelector(`#foods ${number}`) || document.querySelector(number);
      if (choice) { choice.click(); event.preventDefault(); }
      return;
    }
    if (keys[event.key]?.()) event.preventDefault();
  });

  // On a table, up and down go from portion to portion of one eater.
  document.addEventListener("keydown", (event) => {
    const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    const cell = by && event.target.matches(".crossing input") ? event.target.closest("td") : null;
    if (!cell) return;
    const rows = all("tr[data-row]");
    const next = rows[rows.indexOf(cell.parentElement) + by]?.cells[cell.cellIndex]?.querySelector("input");
    if (next) { event.preventDefault(); next.focus(); next.select(); }
  });

  // After a swap, stay where the hands were.
  let place = null;
  document.addEventListener("htmx:beforeSwap", () => { place = document.activeElement?.id || document.activeElement?.dataset?.place || null; });
  document.addEventListener("htmx:afterSettle", (event) => {
    const wanted = accepted ? document.querySelector("[data-row][data-doubt] [data-stop]") : document.querySelector("[data-focus]");
    led = accepted && Boolean(wanted);
    accepted = false;
    if (wanted) wanted.focus();
    else if (place && document.activeElement === document.body) {
      const target = document.getElementById(place) || document.querySelector(`[data-place="${CSS.escape(place)}"]`);
      target?.focus({ preventScroll: true });
    }
    // Under a sheet the chosen line would be out of sight.
    const sheet = document.querySelector(".drawer.is-chosen");
    const row = document.querySelector("[data-row].is-chosen");
    if (sheet && row && getComputedStyle(sheet).position === "fixed" && row.getBoundingClientRect().bottom > sheet.getBoundingClientRect().top) row.scrollIntoView({ block: "start" });
    const waiting = event.target.querySelector?.("[data-waiting]") || event.target.closest?.("[data-waiting]");
    const count = document.querySelector("#waiting");
    if (waiting && count) count.textContent = waiting.dataset.waiting === "0" ? "Nothing waits: let it into the library." : `${waiting.dataset.waiting} still to look at`;
  });

  // An offer under the hand shows on the big gates; leaving it puts them back.
  let shown = null, asked = 0;
  const restore = () => { if (shown !== null) { const gauges = document.querySelector("#gauges"); if (gauges) gauges.innerHTML = shown; shown = null; } asked += 1; };
  const preview = async (button) => {
    const mine = ++asked;
    const answer = await fetch(button.dataset.preview, { headers: { "HX-Request": "true" } });
    const gauges = document.querySelector("#gauges");
    if (mine !== asked || !answer.ok || !gauges) return;
    if (shown === null) shown = gauges.innerHTML;
    gauges.innerHTML = await answer.text();
  };
  for (const [enter, leave] of [["focusin", "focusout"], ["mouseover", "mouseout"]]) {
    document.addEventListener(enter, (event) => { const button = event.target.closest?.("[data-preview]"); if (button && !button.contains(event.relatedTarget)) preview(button); });
    document.addEventListener(leave, (event) => { const button = event.target.closest?.("[data-preview]"); if (button && !button.contains(event.relatedTarget)) restore(); });
  }
  document.addEventListener("htmx:beforeRequest", () => { shown = null; asked += 1; });
  document.addEventListener("click", (event) => {
    const stop = event.target.closest("[data-stop-request]");
    if (stop) window.htmx.trigger(stop.dataset.stopRequest, "htmx:abort");
  });

  // A card that is being set on paper: ask until it is there, then open it.
  const paper = document.querySelector("[data-paper]");
  const askPaper = async () => {
    const answer = await fetch(paper.dataset.paper).then((found) => found.json()).catch(() => null);
    if (answer?.problem) paper.textContent = answer.problem;
    else if (answer?.over) location.reload();
    else setTimeout(askPaper, 500);
  };
  if (paper) askPaper();

  document.addEventListener("change", (event) => {
    if (event.target.matches("[data-submit]")) event.target.form.requestSubmit();
    const said = event.target.parentElement.querySelector("[data-said]");
    const words = event.target.selectedOptions?.[0].text ?? "";
    if (said) said.textContent = words.length > Number(said.dataset.said) ? words : "";
  });
  // A line mended elsewhere on the page stands in the box of all words too, unless somebody is typing in it.
  document.body.addEventListener("words", ({ detail }) => {
    const box = document.getElementById("words-lines");
    if (!box || box.value !== box.defaultValue) return;
    box.value = box.defaultValue = detail.words;
    document.getElementById("words-seen").value = detail.seen;
  });

  document.addEventListener("click", (event) => {
    if (event.target.closest("[data-print]")) window.print();
    const tick = event.target.closest("[data-tick]");
    if (tick) all("[data-lists]").forEach((choice) => {
      const box = choice.querySelector("input");
      if (!tick.dataset.tick || choice.dataset.lists.split(" ").includes(tick.dataset.tick)) box.checked = Boolean(tick.dataset.tick);
    });
  });
})();
