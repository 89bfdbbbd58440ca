"""What every line of a docket has."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any, ClassVar


@dataclass(frozen=True)
class Line:
    """One line of the margin.

    Attributes
    ----------
    extra : Mapping
        Fields that a later version wrote and this one does not know; kept as they are.
    """

    title: ClassVar[str] = ""
    extra: Mapping[str, Any] = field(default_factory=dict, kw_only=True)
