"""What is told of words."""

from ...core.shelf import Word
from .common import Message


class WordLine(Word):
    """A word; `face` is the code of the cut face that shows it, or ""."""

    face: str = ""


class Words(Message):
    words: list[WordLine]
