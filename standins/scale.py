"""A simulated kitchen scale on a loopback port: it speaks as a serial or network scale does, and behaves like one.

    python -m standins.scale --port 8091

It prints the port it listens on: the one asked for, or the next free one, so that two copies never share a scale.
Ten times a second, to everyone who listens, one line: "steady 212.4 g" or "moving 198.0 g"; "over 5000 g" past its
capacity. It takes lines too: "tare", and, since no hand can reach it, "load 212.4", "add 30" and "empty".
It settles over about a second, the heavier the longer, and calls nothing steady before; it wavers by a tenth of a gram meanwhile, and creeps by 0.05 g a minute.
"""

import argparse
import asyncio
import contextlib
import math
import random
import time
from collections.abc import Callable
from dataclasses import dataclass, field

CAPACITY_G, STEP_G = 5000.0, 0.1
SETTLING_S, STEADY_AFTER_S = 0.12, 0.7
DRIFT_G_PER_S = 0.05 / 60
LINE_EVERY_S = 0.1


@dataclass
class Plate:
    """What lies on the scale, and what the scale says of it. Times in seconds of `clock`."""

    clock: Callable[[], float] = time.monotonic
    noise: Callable[[], float] = lambda: random.uniform(-0.1, 0.1)
    load: float = 0.0
    before: float = 0.0
    tare_g: float = 0.0
    moved_at: float = field(default=-1e9)
    zeroed_at: float = 0.0

    def __post_init__(self):
        self.zeroed_at = self.clock()

    def put(self, grams: float) -> None:
        """All that lies on the plate now, in grams; never below nothing."""
        self.before, self.load, self.moved_at = self._weight(), max(grams, 0.0), self.clock()

    def tare(self) -> None:
        """What lies there now reads as zero; the creep starts anew."""
        self.tare_g, self.zeroed_at = self.load, self.clock()

    def _weight(self) -> float:
        gone = self.clock() - self.moved_at
        return self.load + (self.before - self.load) * math.exp(-gone / SETTLING_S)

    def says(self) -> str:
        """One line of its stream, without the line end."""
        weight, since = self._weight(), self.clock() - self.moved_at
        if weight > CAPACITY_G:
            return f"over {CAPACITY_G:.0f} g"
        shown = weight - self.tare_g + DRIFT_G_PER_S * (self.clock() - self.zeroed_at)
        is_steady = since >= STEADY_AFTER_S and abs(self.load - weight) < STEP_G / 2
        if not is_steady:
            shown += self.noise()
        return f"{'steady' if is_steady else 'moving'} {round(shown / STEP_G) * STEP_G + 0.0:.1f} g"

    def obey(self, line: str) -> bool:
        """Carry out one command; False when it was not understood."""
        verb, _, rest = line.strip().lower().partition(" ")
        try:
            grams = float(rest) if rest else 0.0
        except ValueError:
            return False
        if verb == "tare":
            self.tare()
        elif verb == "load" and rest:
            self.put(grams)
        elif verb == "add" and rest:
            self.put(self.load + grams)
        elif verb == "empty":
            self.put(0.0)
        else:
            return False
        return True


async def _serve(plate: Plate, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
    async def listen():
        with contextlib.suppress(ConnectionError):
            while line := await reader.readline():
                plate.obey(line.decode("ascii", errors="replace"))

    ears = asyncio.ensure_future(listen())
    with contextlib.suppress(ConnectionError):
        while not writer.is_closing():
            writer.write(f"{plate.says()}\r\n".encode())
            await writer.drain()
            await asyncio.sleep(LINE_EVERY_S)
    ears.cancel()


#: How many ports after the one asked for are tried before any free one is taken.
NEARBY = 50


async def _listen(port: int, plate: Plate) -> asyncio.Server:
    """Bound at the port asked for or at the next that is free; whoever binds first has it."""
    for candidate in [*range(port, min(port + NEARBY, 65_536)), 0] if port else [0]:
        with contextlib.suppress(OSError):
            return await asyncio.start_server(
                lambda reader, writer: _serve(plate, reader, writer), "127.0.0.1", candidate
            )
    raise OSError("no port is free on 127.0.0.1")


async def main(port: int, plate: Plate | None = None, say: Callable[[str], None] = print) -> None:
    """Serve until stopped; the port is said once it is bound."""
    server = await _listen(port, plate or Plate())
    say(f"{server.sockets[0].getsockname()[1]}")
    async with server:
        await server.serve_forever()


if __name__ == "__main__":
    parser = argparse.ArgumentParser(description="A simulated kitchen scale on a loopback port.")
    parser.add_argument("--port", type=int, default=8091)
    with contextlib.suppress(KeyboardInterrupt):
        asyncio.run(main(parser.parse_args().port, say=lambda port: print(port, flush=True)))
