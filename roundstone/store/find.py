"""What was typed to find something, as what SQL is asked."""

import re
from collections.abc import Iterator, Sequence
from datetime import datetime
from typing import Any

import sqlalchemy as sa
from sqlalchemy import func, select

from ..core.text import MONTHS
from .tables import (
    EventRow,
    PourRow,
    RecipeRow,
    VersionRow,
)

NAME = func.json_extract(RecipeRow.doc, "$.name")
NAME_OF_VERSION = func.json_extract(VersionRow.doc, "$.name")
# What is looked for: every word, each with the ids of what on the shelf is called like it.
Find = Sequence[tuple[str, Sequence[str]]]
MOST_IDS = 40  # of one word that are looked for in recipes


def like(doc: Any, find: Find) -> Iterator[sa.ColumnElement[bool]]:
    """A recipe is found when each word is part of its name, or of the name of something in it."""
    text = sa.cast(doc, sa.String)
    for word, ids in find:
        name = func.json_extract(doc, "$.name").icontains(word, autoescape=True)
        yield sa.or_(name, *(text.contains(f'"{i}"', autoescape=True) for i in ids[:MOST_IDS]))


DAY = re.compile(r"(19|20)\d\d(-\d\d(-\d\d)?)?")


def month_of(word: str) -> str | None:
    """The month a word names, as two digits: at least its first three letters.

    >>> month_of("Nov"), month_of("november"), month_of("no")
    ('11', '11', None)
    """
    found = [n for n, name in enumerate(MONTHS, 1) if len(word) >= 3 and name.casefold().startswith(word.casefold())]
    return f"{found[0]:02d}" if found else None


def narrowed(find: Find, phases: Sequence[str], came: str, since: datetime | None) -> Iterator[sa.ColumnElement[bool]]:
    """Pours found by their recipe, a note, their number or their day (a month, or 2031-05), in some phases, that came
    out so, or were begun since then.
    """
    for word in find:
        # Versions are looked through once, not once a pour; notes by their own index.
        recipes = select(VersionRow.id).where(*like(VersionRow.doc, [word]))
        message = func.json_extract(EventRow.doc, "$.says").icontains(word[0], autoescape=True)
        notes = select(EventRow.pour_id).where(sa.text("json_extract(event.doc, '$.kind') IN ('next', 'heed', 'undo')"))
        ways: list[sa.ColumnElement[bool]] = [
            PourRow.version_id.in_(recipes),
            PourRow.id.in_(notes.where(message)),
            PourRow.batch.icontains(word[0], autoescape=True),
        ]
        if (month := month_of(word[0])) is not None:
            ways.append(sa.func.strftime("%m", PourRow.started) == month)
        if DAY.fullmatch(word[0]):
            ways.append(sa.func.strftime("%Y-%m-%d", PourRow.started).startswith(word[0], autoescape=True))
        yield sa.or_(*ways)
    if phases:
        yield PourRow.phase.in_(phases)
    if came:
        yield PourRow.verdict == came
    if since is not None:
        yield PourRow.started >= since
