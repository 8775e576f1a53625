"""Somebody who may sign in, made or changed: the one place where a pass phrase is looked at and kept."""

from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError

from bendcore.errors import Refusal

from .models import User

FIELDS = {"username": "name"}
"""Fields of a person by another name than people know them."""


def join(person: User, word: str) -> User:
    """Keep a person with this pass phrase; refuses, at ``name`` or ``phrase``, what will not do."""
    try:
        person.full_clean(exclude=["password"])
    except ValidationError as error:
        field, said = next(iter(error.message_dict.items()))
        raise Refusal(FIELDS.get(field, field), _said(said)) from None
    try:
        validate_password(word, person)
    except ValidationError as error:
        raise Refusal("phrase", _said(error.messages)) from None
    person.set_password(word)
    person.save()
    return person


def _said(messages) -> str:
    return " ".join(messages).rstrip(".")
