"""The version that a page shows, in each of its forms."""

from django import template
from django.utils.html import format_html

register = template.Library()


@register.simple_tag
def seen(document):
    """So that what is posted says which version of the document it was typed beside."""
    return format_html('<input type="hidden" name="seen" value="{}">', document.version)
