"""What only the bench draws."""

import functools

from django import template
from django.urls import reverse
from django.utils.formats import date_format
from django.utils.html import format_html, format_html_join
from django.utils.timezone import localtime

from nutrition.dish.naming import called, name_first
from nutrition.food.tags import CHECK, TAGS
from nutrition.limits.plans import plan_label
from nutrition.reading.eaten import NO, YES
from ui.templatetags.ui import along, drawn, gate_small, grams, query, share_bar, tags_named

register = template.Library()


@register.simple_tag(takes_context=True)
def edit_fields(context, act, key=""):
    """What every form of a try sends along: the version it was drawn from, what it asks for, and what one was looking at."""
    sight = context["sight"]
    fields = {
        "version": context["attempt"].version,
        "act": act,
        "watch": sight.watch,
        "order": sight.order,
        "line": key,
    }
    sent = ((name, value) for name, value in fields.items() if value)
    return format_html_join("", '<input type="hidden" name="{}" value="{}">', sent)


@drawn("bench/_finding.html", library=register)
def finding_words(finding, lines, owners=()):
    """Where a tag was found, and whose rule keeps it out; the same words are drawn once."""
    return {
        "owners": tuple((plan_label(plan), str(avoid.why), str(avoid.source)) for plan, avoid in owners),
        "is_found": bool(finding),
        "hits": tuple(
            (
                called(lines[position]),
                hit.word,
                hit.where,
                hit.look_for if hit.verdict == CHECK else "",
                str(hit.source),
            )
            for position, hit in (finding.hits if finding else ())
        ),
        "also_check": tuple(called(lines[position]) for position in finding.also_check) if finding else (),
    }


@register.simple_tag(takes_context=True)
def line_row(context, thread):
    """A line of the bench: its words are drawn once for the same words, its share of the watched nutrient each time."""
    sight, chosen = context["sight"], context["chosen"]
    is_chosen = bool(chosen and chosen.key == thread.key)
    return format_html(
        '<tr data-row class="{}">{}<td><div class="share-cell">{}</div></td></tr>',
        "is-chosen" if is_chosen else "",
        _line_words(thread, sight, context["try_at"], is_chosen),
        share_bar(thread.share, thread.share_written, thread.is_unknown),
    )


@drawn("bench/_line_row.html", library=register)
def _line_words(thread, sight, try_at, is_chosen):
    now, written, change = thread.now, thread.written, thread.change
    flag, flag_words = sight.flags.get(thread.key, ("", ""))
    said = {
        "kept": "kept", "swapped": name_first(now) if now else "", "added": name_first(now) if now else "",
        "cooked": thread.method or "as it is",
    }.get(change, change)  # fmt: skip
    return {
        "key": thread.key,
        "address": f"{try_at}{query(line=thread.key, watch=sight.watch, order=sight.order)}",
        "is_chosen": is_chosen,
        "step": thread.line.step,
        "written": written.text if written else "",
        "grams_written": grams(written.grams) if written else "",
        "change": change,
        "is_gone": change == "dropped",
        "is_kept": change == "kept" or bool(now and now.step),
        "said": "not listed" if now and now.step else said,
        "method": thread.method if change != "cooked" else "",
        "is_there": now is not None,
        "grams_now": grams(now.grams) if now else "",
        "to_check": bool(now and now.sure == "check"),
        "is_quiet": thread.key in sight.quiet,
        "ask": str(now.ask) if now else "",
        "is_raised": thread.key in sight.raised,
        "flag": flag,
        "flag_words": flag_words,
        "text": thread.line.text,
    }


@drawn("bench/_step_row.html", library=register, takes_context=True)
def step_row(context, step):
    """A step of the method: its foods lead to their lines, and those of the chosen line are lit; what it adds and leaves behind stands at
    it. The same words are drawn once."""
    sight, chosen, try_at = context["sight"], context["chosen"], context["try_at"]
    lit = chosen.key if chosen else ""
    seen = {"watch": sight.watch, "order": sight.order}
    return {
        "place": step.place,
        "number": step.number,
        "is_out": step.is_out,
        "is_made": not step.place,
        "words": _linked(step.pieces, step.was, lit, f"{try_at}{query(line='~', **seen)}"),
        "was": step.was,
        "adds": tuple((line.text, tags_named(line), grams(line.grams)) for line in step.adds if line.is_weighed),
        "questions": tuple((_first(each.words), _answers(each)) for each in step.questions),
        "edit": f"{try_at}{query(step=step.place, line=lit, **seen)}",
        "edit_at": context["edit_at"],
    }


@register.simple_tag(takes_context=True)
def left_behind(context, thread):
    """(what a step leaves behind of a line, its two answers) of the line that is open."""
    return [(_first(each.words), _answers(each)) for each in context["sight"].left_of(thread.key)]


@functools.lru_cache(maxsize=4_096)
def _linked(pieces, was, lit, address):
    """The words of a step, each food leading to its line; `lit`: the key of the line that is open; `address`: with ~ for the key. Of
    one that is left out, what it was."""
    if not pieces:
        return format_html('<span class="gone">{}</span>', was)
    food = '<a class="food{}" href="{}" hx-get="{}">{}</a>'
    found = (
        (
            format_html(food, " is-lit" if key == lit else "", at := address.replace("~", key), at, words)
            if key
            else words,
        )
        for words, key in pieces
    )
    return format_html_join("", "{}", found)


def _first(words):
    said = str(words)
    return said[:1].upper() + said[1:]


def _answers(question):
    return tuple(
        (str(words), f"{question.step} {question.how} {answer}", question.said == answer)
        for answer, words in ((YES, question.yes), (NO, question.no))
    )


@register.simple_tag(takes_context=True)
def offer_row(context, offer, number, lesson=None):
    """One way to do a line's job: its words are drawn once for the same words, its small gates each time. `lesson`: where it was given
    up before."""
    sight, key = context["sight"], context["chosen"].key
    preview = reverse("bench:preview", args=[context["bench"].pk, context["attempt"].pk])
    gates = ((gate_small(each.after, each.before.amount),) for each in along(offer.effects, sight.fence))
    return format_html(
        '<li><button name="offer" value="{}" data-choice="{}" data-place="offer-{}" data-preview="{}{}">{}<span class="fence">{}</span>'
        "</button></li>",
        offer.id,
        number,
        number,
        preview,
        query(line=key, offer=offer.id, watch=sight.watch),
        _offer_words(offer, number, lesson),
        format_html_join("", "{}", gates),
    )


@drawn("bench/_offer_words.html", library=register)
def _offer_words(offer, number, lesson):
    on = date_format(localtime(lesson.decided_at), "M j") if lesson else ""
    given_up = [f"Given up in {lesson.attempt.bench.recipe}, {on}: {lesson.reason}"] if lesson else []
    household = [offer.household] if offer.household and offer.kind == "swap" else []
    return {
        "number": number,
        "text": str(offer.text),
        "plain": (*household, *map(str, offer.method[1:])),
        "unsure": (*given_up, *map(str, offer.warnings[:2])),
        "brings_in": tuple(TAGS[tag].lower() for tag in offer.allergens_added),
    }
