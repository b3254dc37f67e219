"""What can go wrong, and what the API answers then. Each has a ``sentence`` that a person can act on.

- ``RuleError``: what was sent breaks a rule of the job. 422, with the field.
- ``Missing``: it is not there, or may not be seen. 404.
- ``Forbidden``: it may be seen, but not done. 403.
- ``Taken``: an id from the client is in use already. 409.
- ``Clash``: somebody else has changed the same field since. 409, with both values.
- ``NeedsConsent`` (``services.schedule.reschedule``): the change moves more than what was touched. 409, with its ripple.
"""

from __future__ import annotations

from typing import Any


class RuleError(Exception):
    """Input that breaks a rule of the job.

    Args:
        sentence: what is wrong and what to do about it, for the person at the screen.
        field: the name of the field concerned, if one is.
    """

    def __init__(self, sentence: str, field: str | None = None) -> None:
        super().__init__(sentence)
        self.sentence = sentence
        self.field = field


class Missing(Exception):
    """What was asked for is not there, or may not be seen by the person who asks."""

    def __init__(self, what: str) -> None:
        super().__init__(what)
        self.sentence = f"There is no such {what}, or you may not see it. Check the address, or ask its lead."


class Forbidden(Exception):
    """The person may see it, but not do this."""

    def __init__(self, sentence: str) -> None:
        super().__init__(sentence)
        self.sentence = sentence


class Taken(Exception):
    """The id that a client made is in use already: for something else, in another project, or by somebody else."""

    sentence = "That id is in use already. Load the page again, and do it once more: it gets an id of its own then."


class Clash(Exception):
    """Somebody else has changed the same field since.

    Args:
        fields: for each field that clashes its ``task_id``, ``field``, ``yours``, ``theirs`` and ``by``.
    """

    def __init__(self, sentence: str, fields: list[dict[str, Any]]) -> None:
        super().__init__(sentence)
        self.sentence = sentence
        self.fields = fields
