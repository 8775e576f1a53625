"""The one way in which the core says no."""


class Refusal(ValueError):
    """Something that was given cannot be used.

    ``path`` names the field the way a person would point at it in the file
    (``shape.legs[2]``); it is empty when the whole input is meant. ``message``
    says what is allowed: a text, or :class:`~bendcore.said.Said` where it holds lengths.

    >>> str(Refusal("shape.legs[2]", "must be greater than 0"))
    'shape.legs[2]: must be greater than 0'
    """

    def __init__(self, path: str, message: str):
        self.path = path
        self.message = message
        super().__init__(f"{path}: {message}" if path else message)

    def __reduce__(self):
        return Refusal, (self.path, self.message)

    def under(self, prefix: str) -> "Refusal":
        """The same refusal, seen from a file in which ``path`` lies below ``prefix``."""
        return Refusal(join(prefix, self.path), self.message)


def join(prefix: str, path: str) -> str:
    """Join two field paths: ``join("shape", "legs[2]") == "shape.legs[2]"``."""
    if not prefix or not path:
        return prefix or path
    return prefix + path if path.startswith("[") else f"{prefix}.{path}"
