"""A rail, and a share of the whole, as SVG. A page of choices draws a hundred of them, each with other figures: as a template one took a
tenth of a millisecond."""

from django.utils.html import escape
from django.utils.safestring import SafeString

from .rails import Rail


def rail_svg(rail: Rail) -> SafeString:
    """The ground, what is through, what is unknown, the dish as written and its trail, the posts, the value."""
    return SafeString("".join([_open(rail), _ground(rail), _written(rail), _value(rail), "</svg>"]))


def _open(rail: Rail) -> str:
    width, height = rail.size.width, rail.size.height
    return (
        f'<svg class="rail is-{rail.state}" width="{width}" height="{height}" viewBox="0 0 {width} {height}" '
        f'role="img" aria-label="{escape(rail.label)}">'
    )


def _ground(rail: Rail) -> str:
    unknown = (
        f'<rect class="unknown" x="{rail.unknown_from}" y="{rail.unknown_y}" width="{rail.unknown_width}" height="10" fill="url(#hatch)"/>'
        if rail.unknown_from is not None
        else ""
    )
    return (
        f'<path class="ground" stroke="#c9d3d5" stroke-width="4" stroke-linecap="round" d="{rail.ground}"/>'
        f'<rect class="through" fill="{rail.pale}" x="{rail.through_from}" y="{rail.through_y}" width="{rail.through_width}" height="3"/>'
        f"{unknown}"
    )


def _written(rail: Rail) -> str:
    """The posts, between the trail and the mark of the dish as written."""
    posts = f'<path class="post" fill="none" stroke="#172a40" stroke-width="2.4" d="{rail.posts}"/>'
    if rail.written is None:
        return posts
    trail = f'<path class="trail" stroke="#51606f" stroke-width="2" stroke-dasharray="2 3" d="{rail.trail}"/>'
    if rail.written_factor:
        mark = f'<path class="written" fill="none" stroke="#566779" stroke-width="2" d="{rail.arrow}"/>'
        return f"{trail}{posts}{mark}{_factor(rail, 9, rail.written_factor)}"
    dot = f'cx="{rail.written}" cy="{rail.size.middle}" r="4.5"'
    return f'{trail}{posts}<circle class="written" fill="#fff" stroke="#566779" stroke-width="2" {dot}/>'


def _value(rail: Rail) -> str:
    value = f'<path class="value" fill="{rail.ink}" stroke="#fff" d="{rail.diamond}"/>'
    return value + (_factor(rail, rail.size.height, rail.value_factor) if rail.value_factor else "")


def _factor(rail: Rail, y: float, words: str) -> str:
    """How many times the post something is that lies off the rail."""
    return f'<text class="factor" font-size="9" fill="#51606f" x="{rail.size.width}" y="{y}" text-anchor="end">{words}</text>'


def share_svg(now: float | None, was: float | None, is_unknown: bool) -> SafeString:
    """A bar as long as a part of the whole, 0 to 1, with a tick where it was, and its percent in words."""
    tick = "" if was is None else f'<path class="was" d="M{round(120 * was, 1)} 0v14"/>'
    percent = "–" if now is None else "<1 %" if 0 < now < 0.005 else f"{100 * now:.0f} %"
    return SafeString(
        '<svg class="share" width="120" height="14" viewBox="0 0 120 14" aria-hidden="true">'
        '<rect class="ground" width="120" height="10" y="2"/>'
        f'<rect class="now" width="{round(120 * (now or 0), 1)}" height="10" y="2"/>{tick}</svg>'
        f'<span class="percent">{"unknown" if is_unknown else escape(percent)}</span>'
    )
