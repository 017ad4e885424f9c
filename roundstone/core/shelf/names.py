"""What a name gives away: lye, acids and what does harm in a pot, by their names in several languages."""

import re
import unicodedata
from collections.abc import Sequence
from typing import Literal

from ..values import Value


class Telling(Value):
    """Words that give something away, and what is said of it. Words are plain: no capitals, no accents; a star at the
    end stands for any ending."""

    kind: Literal["lye", "acid", "harm"]
    words: tuple[str, ...]
    message: str
    source: str


def plain_words(name: str) -> str:
    """A name as it is looked for: small letters without accents, one space between words.

    >>> plain_words("Hidróxido  de SODIO (98%)")
    'hidroxido de sodio 98'
    """
    bare = unicodedata.normalize("NFKD", name.casefold())
    bare = "".join(c for c in bare if not unicodedata.combining(c))
    return " ".join(re.findall(r"[a-z0-9]+", bare))


def told_by(name: str, tellings: Sequence[Telling]) -> Telling | None:
    """What a name gives away, the gravest first as they are listed; None where it says nothing."""
    words = f" {plain_words(name)} "
    for telling in tellings:
        for word in telling.words:
            if (f" {word[:-1]}" if word.endswith("*") else f" {word} ") in words:
                return telling
    return None
