"""The base of every value in the document."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Any, Self

from pydantic import BaseModel, ConfigDict, Field

Id = Annotated[str, Field(min_length=1, max_length=64, pattern=r"^[A-Za-z0-9_.-]+$")]
Fraction01 = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]
Offset = Annotated[float, Field(ge=-8, le=8, allow_inf_nan=False)]
Colour = Annotated[str, Field(pattern=r"^#[0-9A-Fa-f]{6}$")]
Decibels = Annotated[float, Field(ge=-60, le=12, allow_inf_nan=False)]

NewId = Callable[[str], str]
"""Makes a fresh identifier from a prefix; passed in so that edits stay pure."""


class Value(BaseModel):
    """Frozen, compared by content. Fields a newer version added survive a round trip through this one."""

    model_config = ConfigDict(frozen=True, extra="allow", ser_json_inf_nan="null")

    def changed(self, **changes: Any) -> Self:
        """A validated copy with some fields replaced."""
        fields = {name: getattr(self, name) for name in type(self).model_fields}
        return type(self)(**{**fields, **(self.__pydantic_extra__ or {}), **changes})
