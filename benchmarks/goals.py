"""What a benchmark wants of its figures. Run with `--check` it exits with 1 when one of them misses."""

import sys


class Goals:
    """Prints figures beside what is wanted of them, and remembers those that miss.

    goals = Goals()
    goals.say("a tap at the stove", 42.0, "ms", most=100)
    sys.exit(goals.end())
    """

    def __init__(self):
        self.missed = []

    def say(self, what, figure, unit, *, most=None, least=None, digits=0, more=""):
        """One line. `most`, `least`: what is wanted, in the same unit; neither: a figure to look at, such as a limit beside others."""
        is_missed = (most is not None and figure > most) or (least is not None and figure < least)
        wanted = f"wanted < {most:,g}" if most is not None else f"wanted > {least:,g}" if least is not None else ""
        print(
            f"{what:58} {f'{figure:,.{digits}f} {unit}':>20}   {wanted}{'   MISSED' if is_missed else ''}  {more}".rstrip(),
            flush=True,
        )
        if is_missed:
            self.missed.append(what)

    def end(self):
        """What to exit with."""
        for what in self.missed:
            print("missed:", what)
        return 1 if self.missed and "--check" in sys.argv else 0
