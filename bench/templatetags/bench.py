"""What only the bench draws."""

from django import template
from django.utils.html import format_html_join

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
