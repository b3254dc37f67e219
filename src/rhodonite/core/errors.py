"""Errors that a person can act on. Every wing raises these; the API turns them into problem documents."""


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
