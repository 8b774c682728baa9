"""What keeps a layer or a spot from being used."""

from core.sentence import Sentence


class SitingProblem(ValueError):
    """Data that can't be used; the message says what is wrong and what to do."""

    def __init__(self, message: Sentence) -> None:
        super().__init__(message)
        self.message = message
