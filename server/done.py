"""The answer to an act that has nothing else to say."""

from server.schema import Schema


class DoneOut(Schema):
    done: bool = True
