"""What goes in and out of the API: plain pydantic.

The API framework's own base class looks at every value through a proxy of the object it came from,
which made a list of hundreds of rows cost more than everything else about it.
"""

from typing import Annotated

from pydantic import AfterValidator, BaseModel, ConfigDict, Field


def _each_once(keys: list[int]) -> list[int]:
    return list(dict.fromkeys(keys))


# Things named by their numbers, each once however often it was said. No farm has more of any.
Keys = Annotated[list[int], Field(max_length=2000), AfterValidator(_each_once)]
# What something is known by: a crop, a stage, a task.
Name = Annotated[str, Field(max_length=80)]


class Schema(BaseModel):
    """What goes out, or a part of it; rows of the database are read by their attributes."""

    model_config = ConfigDict(from_attributes=True)


class Body(Schema):
    """What a request brings; a number that is not finite is refused wherever one stands in it."""

    model_config = ConfigDict(allow_inf_nan=False)


class DoneOut(Schema):
    """The answer to an act that has nothing else to say."""

    done: bool = True
