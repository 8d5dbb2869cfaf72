#!/usr/bin/env python3
"""The server under an ordinary day, beside a bare page of the same run; and editors beside PDFs and ways.

    ./start in one shell, then   .venv/bin/python benchmarks/load.py http://127.0.0.1:8000 [--check] [--seconds N]

Signs in as the demo, edits a try of its own, asks for ways and papers. `--check` exits with 1 when a figure misses its goal.
"""

import argparse
import http.client
import random
import re
import statistics
import sys
import threading
import time
from pathlib import Path
from urllib.parse import urlencode, urlsplit

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))
from demo import EMAIL, PASSWORD  # noqa: E402

EDITORS, EDITS_A_SECOND, PAPERS, WAYS = 4, 2, 4, 8
#: At most so many times a bare page's median; and what an edit's 95th percentile may take beside long work.
GOALS = {"bench": 6, "edit": 6, "person": 4, "card": 4}
MOST_MS = 300


class Visitor:
    """A browser's connection, cookies and token."""

    def __init__(self, base):
        self.host = urlsplit(base).netloc
        self.line, self.cookies = http.client.HTTPConnection(self.host, timeout=60), {}

    def ask(self, method, path, data=None, **headers):
        body = urlencode(data) if data else None
        headers |= {"Cookie": "; ".join(f"{name}={value}" for name, value in self.cookies.items())}
        if body:
            headers["Content-Type"] = "application/x-www-form-urlencoded"
        if "csrftoken" in self.cookies:
            headers["X-CSRFToken"] = self.cookies["csrftoken"]
        try:
            self.line.request(method, path, body, headers)
            answer = self.line.getresponse()
            text = answer.read().decode(errors="replace")
        except (http.client.HTTPException, OSError):
            self.line.close()
            self.line = http.client.HTTPConnection(self.host, timeout=60)
            self.line.request(method, path, body, headers)
            answer = self.line.getresponse()
            text = answer.read().decode(errors="replace")
        for name, value in answer.getheaders():
            if name == "Set-Cookie":
                key, _, rest = value.partition("=")
                self.cookies[key] = rest.split(";")[0]
        return answer, text

    def sign_in(self):
        self.ask("GET", "/account/sign-in/")
        answer, _ = self.ask("POST", "/account/sign-in/", {"login": EMAIL, "password": PASSWORD})
        if answer.status != 302:
            raise SystemExit("could not sign in: is the demo loaded?")
        return self


class Editor:
    """Somebody who changes one amount of a try of their own, again and again."""

    def __init__(self, base, page):
        self.visitor = Visitor(base).sign_in()
        answer, _ = self.visitor.ask("POST", f"{page}branch/", {"from": "written"})
        self.page = answer.getheader("Location")
        _, text = self.visitor.ask("GET", self.page)
        self.key, self.version, self.turn = re.search(r"line=(\w+)", text)[1], 0, 0
        self.draw()

    def draw(self):
        _, text = self.visitor.ask("GET", f"{self.page}?line={self.key}", **{"HX-Request": "true"})
        self.read(text)

    def read(self, text):
        if found := re.search(r'name="version"\s+value="(\d+)"', text):
            self.version = found[1]

    def edit(self, grams=0):
        self.turn += 1
        amount = f"{grams or 30 + self.turn % 9} g"
        sent = {"act": "amount", "line": self.key, "version": self.version, "amount": amount}
        answer, text = self.visitor.ask("POST", f"{self.page}edit/", sent, **{"HX-Request": "true"})
        self.read(text)
        return answer.status


def timed(call):
    started = time.perf_counter()
    call()
    return 1000 * (time.perf_counter() - started)


def beside(call, bare, times):
    """(median in ms, median of how many bare pages): the two in turns, since a machine's speed changes by the minute."""
    call()
    pairs = [(timed(bare), timed(call)) for _ in range(times)]
    return statistics.median(own for _, own in pairs), statistics.median(own / plain for plain, own in pairs)


def edits_of(editors, seconds):
    """Milliseconds of every edit of all of them, each at its pace; and how many failed."""
    runs, failed, lock = [], [], threading.Lock()

    def work(editor, offset):
        began = time.perf_counter() + offset
        for turn in range(int(seconds * EDITS_A_SECOND)):
            time.sleep(max(began + turn / EDITS_A_SECOND - time.perf_counter(), 0))
            started = time.perf_counter()
            status = editor.edit()
            with lock:
                runs.append(1000 * (time.perf_counter() - started))
                if status != 200:
                    failed.append(status)

    threads = [
        threading.Thread(target=work, args=(editor, at / EDITORS / EDITS_A_SECOND)) for at, editor in enumerate(editors)
    ]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return runs, failed


def set_papers(editor):
    """Ask for papers, one after the other since a user has one at a time, and wait for each as its page does."""
    ask, attempt = editor.visitor.ask, re.search(r"/try/(\d+)/", editor.page)[1]
    done = 0
    for _ in range(3 * PAPERS):  # where papers are set within the request, none is ever waited for
        if done == PAPERS:
            break
        editor.edit(random.randint(40, 900))  # another amount: most likely a card nobody has set yet
        look = ("", "large", "plain")[done % 3]
        _, text = ask("GET", f"/card/{attempt}/card.pdf?size={('letter', 'a4')[done % 2]}&print={look}")
        state = re.search(r'data-paper="([^"]+)"', text)
        while state and '"over": false' in ask("GET", state[1])[1]:
            time.sleep(0.4)
        done += state is not None


def find_ways(editor):
    """... and for ways through, as the page of a way does."""
    ask, page = editor.visitor.ask, editor.page
    for _ in range(WAYS):
        _, text = ask("GET", f"{page}way/?find=1", **{"HX-Request": "true"})
        while state := re.search(r'hx-get="([^"]+)"\s+hx-trigger="load', text):
            time.sleep(0.4)
            _, text = ask("GET", state[1], **{"HX-Request": "true"})


def beside_long_work(editors, askers, seconds):
    """As `edits_of`, for at least so long and until all papers and ways are done; and the seconds that took."""
    runs, failed, started = [], [], time.perf_counter()
    works = zip((set_papers, find_ways), askers, strict=True)
    workers = [threading.Thread(target=work, args=(asker,)) for work, asker in works]
    for worker in workers:
        worker.start()
    while any(worker.is_alive() for worker in workers) or time.perf_counter() - started < seconds:
        more, wrong = edits_of(editors, 2)
        runs, failed = runs + more, failed + wrong
    return runs, failed, time.perf_counter() - started


def p95(runs):
    return statistics.quantiles(runs, n=20)[-1]


def soak(base, page, person, attempt, seconds):
    """The ordinary mix from four visitors without a pause: answers, how many a second, and what was no answer."""
    answers, wrong, lock = 0, [], threading.Lock()

    def visit(number):
        nonlocal answers
        editor = Editor(base, page)
        ask = editor.visitor.ask
        turns = [
            lambda: ask("GET", "/"), lambda: ask("GET", page), editor.edit, lambda: ask("GET", person), editor.edit,
            lambda: ask("GET", f"/card/{attempt}/"), lambda: ask("POST", "/find/", {"q": "oats"}), editor.edit,
        ]  # fmt: skip
        turn, until = number, time.perf_counter() + seconds
        while time.perf_counter() < until:
            found = turns[turn % len(turns)]()
            status, turn = found if isinstance(found, int) else found[0].status, turn + 1
            with lock:
                answers += 1
                if status != 200:
                    wrong.append(status)

    threads = [threading.Thread(target=visit, args=(number,)) for number in range(4)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    print(
        f"{seconds / 60:.0f} minutes of the mix: {answers:,} answers, {answers / seconds:.0f} a second, {len(wrong)} wrong {wrong[:5]}"
    )
    return len(wrong)


def main():
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("base")
    parser.add_argument("--check", action="store_true")
    parser.add_argument("--seconds", type=float, default=20)
    parser.add_argument("--soak", type=float, default=0, help="minutes of the ordinary mix, as fast as it goes")
    asked = parser.parse_args()
    missed = measured(asked.base, asked.seconds, asked.soak)
    for each in missed:
        print("missed:", each)
    return 1 if asked.check and missed else 0


def measured(base, seconds, soak_minutes=0.0):
    """Prints what pages and edits take. What missed, in words."""
    visitor = Visitor(base).sign_in()
    _, text = visitor.ask("GET", "/bench/")
    bench = re.search(r'href="(/bench/\d+/)"', text)[1]
    page = visitor.ask("GET", bench)[0].getheader("Location")
    _, text = visitor.ask("GET", page)
    person, attempt = re.search(r'href="(/people/\d+/)', text)[1], re.search(r"/try/(\d+)/", page)[1]
    if soak_minutes:
        wrong = soak(base, page, person, attempt, 60 * soak_minutes)
        return [f"{wrong} wrong answers"] if wrong else []
    editors = [Editor(base, page) for _ in range(EDITORS)]
    calls = {
        "bare answer": lambda: visitor.ask("GET", "/health/live/"),
        "bare page": lambda: visitor.ask("GET", "/keys/"),
        "today": lambda: visitor.ask("GET", "/"),
        "find": lambda: visitor.ask("POST", "/find/", {"q": "oats"}),
        "person": lambda: visitor.ask("GET", person),
        "card": lambda: visitor.ask("GET", f"/card/{attempt}/"),
        "bench": lambda: visitor.ask("GET", page),
        "edit": editors[0].edit,
    }
    missed = []
    for name, call in calls.items():
        median, times = beside(call, calls["bare page"], 40)
        goal = GOALS.get(name)
        if goal and times > goal:
            missed.append(f"{name} is {times:.1f} bare pages, wanted {goal}")
        print(f"{name:12} {median:6.1f} ms   {times:.1f} bare pages{f'   wanted {goal}' if goal else ''}", flush=True)
    quiet, failed = edits_of(editors, seconds)
    print(
        f"{EDITORS} editors, {EDITS_A_SECOND} edits a second each: median {statistics.median(quiet):.0f}, p95 {p95(quiet):.0f} ms, {len(failed)} failed"
    )

    askers = [Editor(base, page) for _ in range(2)]  # signed in before: that is costly on purpose
    busy, failed_too, took = beside_long_work(editors, askers, seconds)
    print(
        f"... beside {PAPERS} papers and {WAYS} ways, done in {took:.0f} s: median {statistics.median(busy):.0f}, "
        f"p95 {p95(busy):.0f} ms, {len(failed_too)} failed   wanted {MOST_MS}"
    )
    if p95(busy) > MOST_MS:
        missed.append(f"an edit beside long work takes {p95(busy):.0f} ms at the 95th percentile")
    if failed or failed_too:
        missed.append(f"{len(failed) + len(failed_too)} edits failed")
    return missed


if __name__ == "__main__":
    sys.exit(main())
