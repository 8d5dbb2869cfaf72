"""One labeled field, one template: a box, a list, several lines, a tick; of a form of Django's too.

What was typed and refused stands in its field again: `act` names what the field belongs to, and where the page was drawn for that
act with what was typed (`act`, `typed` and `problem` of its context), the words typed win over the value that is kept.
"""

from datetime import date, time

from django import template
from django.db.models import Model
from django.forms.utils import flatatt
from django.utils.html import escape
from django.utils.safestring import mark_safe

from .ui import drawn

register = template.Library()

#: Kind of a field -> what is written into its tag.
KINDS = {
    "words": (("autocomplete", "off"),),
    "number": (("inputmode", "decimal"), ("autocomplete", "off")),
    "count": (("inputmode", "numeric"), ("autocomplete", "off")),
    "date": (("type", "date"),),
    "time": (("type", "time"),),
    "search": (("type", "search"), ("autocomplete", "off")),
    "lines": (),
    "list": (),
}
#: How a field stands -> (classes of its label, classes of its box).
STANDS = {
    "": ("", ""),
    "beside": ("mb-0", "w-auto"),
    "short": ("mb-0", "grams-box"),
    "wide": ("mb-0", "flex-grow-1"),
    "grow": ("", "w-auto flex-grow-1"),
}


@drawn("ui/field.html", library=register, takes_context=True)
def field(
    context, name, label, value="", *, kind="words", stands="", small=False, unseen=False, act="", wrong="", **more
):
    """A labeled box; `kind`: one of KINDS.

    `stands`: one of STANDS; `small`: in a smaller hand; `unseen`: its label is only heard; `act`: what was typed for this act stands in
    it again; `wrong`: what is wrong with it. `more`: id, of (of several, which), most (letters), hint, rows, needed, focus (the field to
    begin in), key (of the keyboard, told in its label), names (a list of names to choose from), size, asks (whether its label is a
    question), after (a unit), sends (the words of a button beside it); finds, or posts where no address may tell it: an address that
    answers what is typed; into and when: where the answer goes, and at what.
    """
    attributes = [*KINDS[kind], *_more(more), *([("autofocus", True)] if more.get("focus") == name else [])]
    if wrong:
        attributes += [("aria-describedby", f"{_id(name, more)}-wrong"), ("aria-invalid", "true")]
    return _drawn(
        kind, name, label, _typed(context, act, name, value), (), attributes, stands, small, unseen, wrong, more
    )


@drawn("ui/field.html", library=register, takes_context=True)
def choose(
    context,
    name,
    label,
    options,
    chosen="",
    *,
    none=None,
    stands="",
    small=False,
    unseen=False,
    at_once=False,
    act="",
    **more,
):
    """A labeled list. `options`: words, rows, or (value, words); `none`: what stands first, for nothing; `at_once`: choosing sends."""
    pairs = tuple(_option(each) for each in options)
    if none is not None:
        pairs = (("", none), *pairs)
    attributes = [*_more(more), *([("data-submit", True)] if at_once else [])]
    chosen = _typed(context, act, name, chosen)
    return _drawn("list", name, label, chosen, pairs, attributes, stands, small, unseen, "", more)


@drawn("ui/tick.html", library=register)
def tick(name, label, is_on=False, *, value="on", of="", kind="checkbox"):
    """A labeled box to tick; `kind` "radio": one of several. `of`: of several, which."""
    own = name.replace("_", "-")
    return {
        "name": name,
        "label": label,
        "is_on": bool(is_on),
        "value": value,
        "id": f"{own}-{of}" if of else own,
        "kind": kind,
    }


@register.inclusion_tag("ui/bound_field.html")
def bound(bound_field, label="", *, size="", assurance=None, is_asked=False, hint=""):
    """A field of a form of Django's with its label, what is wrong with it, what helps; and the tick that assures it is meant. `hint`: what
    is said after each thing that is wrong."""
    words = label or str(bound_field.label)[:1].upper() + str(bound_field.label)[1:]
    return {
        "field": bound_field,
        "label": words,
        "size": size,
        "assurance": assurance,
        "is_asked": is_asked,
        "hint": hint,
    }


def _drawn(kind, name, label, value, options, attributes, stands, small, unseen, wrong, more):
    of_label, of_box = STANDS[stands]
    base = "form-select" if kind == "list" else "form-control"
    return {
        "kind": kind,
        "name": name,
        "id": _id(name, more),
        "label": str(label),
        "of_label": "visually-hidden" if unseen else of_label,
        "of_box": " ".join(filter(None, (base, f"{base}-sm" if small else "", of_box))),
        "value": _lines(value) if kind == "lines" else _written(value),
        "options": options,
        "attributes": flatatt(dict(attributes)),
        "wrong": str(wrong),
        "key": more.get("key", ""),
        "asks": bool(more.get("asks")),
        "after": more.get("after", ""),
        "sends": more.get("sends", ""),
    }


def _id(name, more):
    """Of a field on the page; of one of several with which of them it is."""
    own = more.get("id") or name
    return f"{own}-{more['of']}" if "of" in more else own


def _more(more):
    """What else is written into the tag of a field. Raises TemplateSyntaxError for what no field has."""
    known = {
        "most": "maxlength", "hint": "placeholder", "rows": "rows", "needed": "required", "names": "list",
        "size": "size", "help": "title", "into": "hx-target", "finds": "hx-get", "posts": "hx-post", "when": "hx-trigger",
    }  # fmt: skip
    if unknown := more.keys() - {*known, "id", "of", "key", "after", "sends", "focus", "asks"}:
        raise template.TemplateSyntaxError(f"no field has {', '.join(sorted(unknown))}")
    found = [
        (known[name], value if value is True else str(value)) for name, value in more.items() if name in known and value
    ]
    if more.get("finds") or more.get("posts"):
        found += [("hx-swap", "innerHTML")] + (
            [] if more.get("when") else [("hx-trigger", "input changed delay:150ms")]
        )
    if more.get("key"):
        found += [(f"data-key-{more['key']}", True)]
    return found


def _typed(context, act, name, value):
    """What was typed for this act and could not be taken; else the value."""
    typed = context.get("typed") if act and (context.get("problem") or context.get("stale")) else None
    if not typed or act not in (context.get("act"), typed.get("act")):
        return value
    return typed.get(name, value)


def _written(value):
    """A value as its field takes it."""
    if value is None:
        return ""
    if isinstance(value, time):
        return f"{value:%H:%M}"
    return value.isoformat() if isinstance(value, date) else str(value)


def _lines(value):
    """Several lines as their box takes them, blank ones too, which a drawing would let go."""
    words = _written(value).replace("\r\n", "\n")
    first = "\n" if words.startswith("\n") else ""  # a browser lets the first one go
    return mark_safe(escape(first + words).replace("\n", "&#10;"))  # noqa: S308 - escaped


def _option(each):
    """(value, words) of one thing to choose: a row, a word, or a key with what has a label."""
    if isinstance(each, Model):
        return str(each.pk), str(each)
    value, words, *_ = each if isinstance(each, tuple | list) else (each, each)
    return str(value), str(getattr(words, "label", words))
