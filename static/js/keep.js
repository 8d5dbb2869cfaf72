// Nothing vanishes: what could not be sent is said where the finger is, stays typed, and can be sent again.
(() => {
  "use strict";
  const KEPT = "open-gate-typed";
  const csrf = () => document.cookie.match(/(?:^|; )csrftoken=([^;]+)/)?.[1];

  // Whoever signed in again in another tab has a new token: every request takes the one that counts now.
  document.addEventListener("htmx:configRequest", (event) => {
    const token = csrf();
    if (!token) return;
    event.detail.headers["X-CSRFToken"] = token;
    if (event.detail.parameters.csrfmiddlewaretoken) event.detail.parameters.csrfmiddlewaretoken = token;
  });

  const tell = (place, words, again, link) => {
    document.querySelectorAll(".not-sent").forEach((old) => old.remove());
    const box = document.createElement("div");
    box.className = "not-sent notice bad";
    box.setAttribute("role", "alert");
    const said = document.createElement("p");
    said.textContent = words;
    box.append(said);
    if (link) {
      const door = document.createElement("a");
      Object.assign(door, { href: link, target: "_blank", className: "may", textContent: "Sign in, in another tab" });
      box.append(door, " ");
    }
    for (const [name, act] of again) {
      const button = document.createElement("button");
      Object.assign(button, { type: "button", className: "may", textContent: name });
      button.addEventListener("click", () => { box.remove(); act(); });
      box.append(button, " ");
    }
    place.after(box);
    box.querySelector("button, a")?.focus({ preventScroll: true });
    box.scrollIntoView({ block: "nearest" });
  };

  const failed = (event, words, link) => {
    const from = event.detail.elt;
    // The stove keeps its taps and sends them by itself.
    if (from.closest?.("#stove") && event.detail.requestConfig?.verb === "post") return;
    const form = from.closest?.("form");
    const place = form?.isConnected ? form : from.isConnected ? from : document.querySelector("#main").firstElementChild;
    const again = form && from === form ? () => form.requestSubmit() : () => from.click();
    tell(place, `${words} What you typed is still here.`, [["Send it again", again]], link);
  };

  document.addEventListener("htmx:responseError", (event) => {
    const { status } = event.detail.xhr;
    const number = event.detail.xhr.getResponseHeader?.("X-Request-Number");
    if (status === 401) failed(event, "You were signed out, so nothing was saved.", "/account/sign-in/");
    else if (status >= 500) failed(event, `Nothing was saved: the server answered ${status}${number ? `, number ${number}` : ""}.`);
    else {
      const page = new DOMParser().parseFromString(event.detail.xhr.responseText || "", "text/html");
      const why = page.querySelector("[data-refusal]")?.textContent.trim() || `The server refused (${status}).`;
      failed(event, `Nothing was saved. ${why}`);
    }
  });
  document.addEventListener("htmx:sendError", (event) => failed(event, "Nothing was saved: the server could not be reached."));
  document.addEventListener("htmx:timeout", (event) => failed(event, "Nothing was saved: the server took too long."));

  // Forms that lead to another page: a copy stays in this tab until a page of ours answers that is neither the door nor broken.
  const read = () => { try { return JSON.parse(sessionStorage.getItem(KEPT)); } catch { return null; } };
  const write = (kept) => { try { kept ? sessionStorage.setItem(KEPT, JSON.stringify(kept)) : sessionStorage.removeItem(KEPT); } catch { /* no room: nothing is kept */ } };

  document.addEventListener("submit", (event) => {
    const form = event.target;
    if (form.matches(".sign-out")) { write(null); return; }
    if (form.method !== "post" || form.hasAttribute("hx-post") || form.querySelector("input[type=password]")) return;
    const token = csrf(), box = form.querySelector("input[name=csrfmiddlewaretoken]");
    if (token && box) box.value = token;
    const fields = [...new FormData(form, event.submitter)].filter(([name, value]) => name !== "csrfmiddlewaretoken" && typeof value === "string");
    write({ page: location.pathname, action: form.getAttribute("action") || "", fields, state: "sent" });
  }, true);

  const fill = (form, fields) => {
    const values = new Map();
    for (const [name, value] of fields) values.set(name, [...(values.get(name) || []), value]);
    for (const box of form.elements) {
      const told = values.get(box.name);
      if (box.type === "checkbox" || box.type === "radio") { if (box.name) box.checked = Boolean(told?.includes(box.value)); }
      else if (told && box.type !== "hidden" && box.tagName !== "BUTTON") box.value = told.shift() ?? box.value;
    }
  };

  const kept = read();
  if (!kept) return;
  const here = document.body.dataset.page || "";
  if (here === "door" || here === "broken") {
    write({ ...kept, state: "refused" });
    const back = document.querySelector("[data-back]");
    if (back && here === "broken") { back.href = kept.page; back.hidden = false; }
    return;
  }
  if (kept.state === "sent") { write(null); return; }
  if (kept.page !== location.pathname) return;
  const form = [...document.forms].find((each) => each.method === "post" && (each.getAttribute("action") || "") === kept.action);
  if (!form) return;
  const pressed = [...form.elements].find((box) => box.tagName === "BUTTON" && box.name && kept.fields.some(([name, value]) => name === box.name && value === box.value));
  tell(document.querySelector("#main").firstElementChild, "What you typed here was not saved. It is kept.", [
    ["Send it again", () => { fill(form, kept.fields); write(null); form.requestSubmit(pressed); }],
    ["Put it back", () => { fill(form, kept.fields); write(null); form.scrollIntoView({ block: "nearest" }); }],
    ["Let it go", () => write(null)],
  ]);
})();
