"""The scale on the counter. One small interface, so that any scale that speaks in lines can stand there.

OPEN_GATE_SCALE names it as pyserial does: "socket://127.0.0.1:8091" (network, and the stand-in), "/dev/ttyUSB0"
(serial). Another protocol is another `read_line`. Without a scale, or when it is gone, everything is typed instead.
"""

import re
import time
from dataclasses import dataclass
from typing import Protocol

import serial
from django.conf import settings

#: How long to wait for a first line, and for the weight to settle when it is asked for.
PATIENCE_S, SETTLE_S = 0.6, 2.0


class ScaleGone(Exception):
    """No scale answers. The sentence is for the cook."""


@dataclass(frozen=True, slots=True)
class Reading:
    """What the scale shows. Only a steady weight is taken."""

    grams: float
    is_steady: bool
    is_over: bool = False


class Scale(Protocol):
    """What the kitchen asks of a scale."""

    def read(self) -> Reading:
        """What it shows now. Raises ScaleGone."""

    def tare(self) -> None:
        """Make what lies there read as zero. Raises ScaleGone."""


_LINE = re.compile(rb"(steady|moving|over)\s+([+-]?\d+(?:\.\d+)?)\s*g")


def read_line(line: bytes) -> Reading | None:
    """One line of the scale's stream; None when it was cut short or is noise on the wire.

    >>> read_line(b"steady 212.4 g")
    Reading(grams=212.4, is_steady=True, is_over=False)
    >>> read_line(b"eady 21")
    """
    found = _LINE.search(line)
    if not found:
        return None
    return Reading(float(found[2]), found[1] == b"steady", found[1] == b"over")


class LineScale:
    """A scale that sends its weight line by line, over a serial line or the network."""

    def __init__(self, url: str):
        self.url = url

    def _open(self):
        try:
            return serial.serial_for_url(self.url, timeout=PATIENCE_S)
        except (serial.SerialException, OSError, ValueError) as problem:
            raise ScaleGone("No scale answers. Type the weight; the scale is tried again by itself.") from problem

    def read(self) -> Reading:
        port = self._open()
        with port:
            try:
                for _ in range(3):
                    if reading := read_line(port.read_until(b"\n", 64)):
                        return reading
            except (serial.SerialException, OSError) as problem:
                raise ScaleGone("The scale stopped answering. Type the weight, or look at its cable.") from problem
        raise ScaleGone("The scale says nothing that can be read. Type the weight, or look at its cable.")

    def send(self, command: str) -> None:
        port = self._open()
        with port:
            try:
                port.read_until(b"\n", 64)  # the line is up
                port.write(f"{command}\r\n".encode("ascii"))
                port.flush()
                port.read_until(b"\n", 64)  # and the command was sent before it closes
            except (serial.SerialException, OSError) as problem:
                raise ScaleGone("The scale stopped answering. Nothing was set.") from problem

    def tare(self) -> None:
        self.send("tare")


def the_scale() -> LineScale | None:
    """The scale of this kitchen; None when there is none."""
    return LineScale(settings.SCALE_URL) if settings.SCALE_URL else None


def steady_weight(scale: Scale) -> Reading:
    """The weight once it stands still; the last reading, not steady, when it does not in time. Raises ScaleGone."""
    until = time.monotonic() + SETTLE_S
    reading = scale.read()
    while not reading.is_steady and time.monotonic() < until:
        time.sleep(0.1)
        reading = scale.read()
    return reading
