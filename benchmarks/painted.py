#!/usr/bin/env python3
"""From the click to the painted bench, in Debian's Chromium: opening a line, watching another gate, setting an amount.

    ./start in one shell, then   .venv/bin/python benchmarks/painted.py http://127.0.0.1:8000 [--check]

A bare page's round trip through the same browser stands beside, so that the machine's mood can be told from ours.
`--check` exits with 1 when half of the clicks take longer than the goal.
"""

import argparse
import os
import statistics
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))
from playwright.sync_api import sync_playwright  # noqa: E402

from tools.pictures import DESK, Camera  # noqa: E402

TURNS, MOST_MS = 30, 150
#: Milliseconds from here until the second frame after htmx has put the answer in its place: what the eye waits for.
PAINTED = """(press) => new Promise((done) => {
  const began = performance.now();
  document.addEventListener("htmx:afterSwap", () => requestAnimationFrame(() => requestAnimationFrame(
    () => done(performance.now() - began))), { once: true });
  const target = document.querySelector(press.selector);
  if (press.value) target.form.querySelector("input:not([type=hidden])").value = press.value;
  target.click();
})"""
BARE = """async () => { const began = performance.now(); await (await fetch("/keys/")).text(); return performance.now() - began; }"""


def clicks(page):
    """Name of an act -> milliseconds of each time it was done."""
    acts = {"open a line": [], "watch a gate": [], "set an amount": []}
    for turn in range(TURNS):
        presses = {
            "open a line": {"selector": f"[data-row]:nth-of-type({turn % 5 + 2}) .pick"},
            "watch a gate": {"selector": "[data-gate][aria-pressed=false]"},
            "set an amount": {"selector": "form:has(#amount) button", "value": f"{30 + turn % 9} g"},
        }
        for act, press in presses.items():
            acts[act].append(page.evaluate(PAINTED, press))
            page.wait_for_timeout(60)
    return acts


def main():
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("base")
    parser.add_argument("--check", action="store_true")
    asked = parser.parse_args()
    with sync_playwright() as started:
        browser = started.chromium.launch(executable_path="/usr/bin/chromium", chromium_sandbox=os.geteuid() != 0)
        page = browser.new_page(viewport=DESK)
        camera = Camera(page, asked.base.rstrip("/"))
        camera.sign_in()
        missed = measured(page, camera.base)
        browser.close()
    return 1 if asked.check and missed else 0


def measured(page, base):
    """Prints what each click takes for whoever is signed in on this page. How many missed."""
    page.goto(f"{base}/bench/")
    page.locator("main table a, main .rows a, main a[href*='/bench/']").first.click()
    page.wait_for_selector("#workspace")
    page.locator("button[data-key-n]").click()  # a try of its own
    page.wait_for_selector("#workspace")
    bare = statistics.median(page.evaluate(BARE) for _ in range(TURNS))
    nodes = page.evaluate("document.querySelectorAll('#workspace *').length")
    acts = clicks(page)
    print(f"bare page    {bare:5.0f} ms    workspace of {nodes} elements")
    missed = 0
    for act, runs in acts.items():
        middle, late = statistics.median(runs), statistics.quantiles(runs, n=20)[-1]
        print(f"{act:13} p50 {middle:4.0f} ms  p95 {late:4.0f} ms  {middle / bare:4.1f} bare pages  wanted {MOST_MS}")
        missed += middle > MOST_MS
    return missed


if __name__ == "__main__":
    sys.exit(main())
