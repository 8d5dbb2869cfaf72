"""What is written down when something goes wrong: where and what kind, never whose, and never a word of a note or a recipe."""

import json
import logging
import re
import traceback
from contextvars import ContextVar

#: The number of the request at hand; its error page shows the same.
request_number: ContextVar[str] = ContextVar("request_number", default="")

#: A private link opens for whoever has it, so its token is a secret.
_TOKEN = re.compile(r"(/card/for/|/meals/for/|/office/join/|/password/reset/)[^/\s]+")


class Discreet(logging.Formatter):
    """A line a record. Of an exception its type and where it arose: its words may hold what somebody typed."""

    def formatException(self, ei):
        kind, _, trace = ei
        places = (f"{frame.filename}:{frame.lineno} in {frame.name}" for frame in traceback.extract_tb(trace))
        return "\n".join([*(f"  {place}" for place in places), f"  {kind.__name__ if kind else 'unknown'}"])

    def format(self, record):
        number = request_number.get()
        return _TOKEN.sub(r"\1…", super().format(record).replace("[]", f"[{number}]" if number else "[-]", 1))


class DiscreetJson(Discreet):
    """The same as one JSON object a line, for machines that gather logs."""

    def format(self, record):
        said = {
            "at": self.formatTime(record),
            "level": record.levelname,
            "logger": record.name,
            "request": request_number.get(),
            "message": _TOKEN.sub(r"\1…", record.getMessage()),
        }
        if record.exc_info:
            said["trace"] = self.formatException(record.exc_info)
        return json.dumps(said, ensure_ascii=False)
