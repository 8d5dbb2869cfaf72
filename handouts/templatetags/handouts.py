"""What other rooms show of the cards that are out there."""

from django import template

from handouts.models import Release

register = template.Library()


@register.simple_tag
def made_for_other_limits(person):
    """The cards of a person that went out when they were held to something else. Two queries."""
    return Release.objects.under_other_limits(person)
