"""What goes in and out of the API: plain pydantic.

The API framework's own base class looks at every value through a proxy of the object it came from,
which made a list of hundreds of rows cost more than everything else about it.
"""

from pydantic import BaseModel, ConfigDict


class Schema(BaseModel):
    """A body or a part of one; rows of the database are read by their attributes."""

    model_config = ConfigDict(from_attributes=True)
