"""Numbers that come in, as far as the database can hold them."""

from typing import Annotated

from pydantic import Field

RowId = Annotated[int, Field(ge=1, le=2**63 - 1)]
"""What a row is known by."""
Moment = Annotated[int, Field(ge=0, le=2**31 - 1)]
"""Milliseconds from the start of a recording."""
Revision = Annotated[int, Field(ge=0, le=2**31 - 1)]
"""A point in the history of a quote or a transcript, counted from 1; 0 is before any."""
MOST_DESTINATIONS = 40
"""More destinations than a request names."""
