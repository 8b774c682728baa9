"""The answer to an act that has nothing else to say."""

from ninja import Schema


class DoneOut(Schema):
    done: bool = True
