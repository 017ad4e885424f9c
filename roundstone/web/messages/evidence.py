"""What is told to other workshops, and what they told."""

from datetime import datetime

from pydantic import Field

from ...core.evidence import ToldOf
from ...core.text import Text
from ...core.values import Id, Name
from .common import Message

MOST_TEXT = 20_000_000  # letters of a file


class Sharable(Message):
    """A fragrance whose pours saw something that can be told."""

    fragrance: Id
    told: ToldOf
    words: Text


class SourceView(Message):
    """A file that was read: from how many workshops, of how many fragrances."""

    id: str
    workshops: int
    fragrances: int
    read: datetime


class HeardOf(Message):
    """A fragrance others told of, in words; `fragrance` is the own one said to be the same, `like` one whose name or
    code is the same, to be asked about."""

    name: Name
    code: Name
    words: Text
    fragrance: Id | None
    like: Id | None


class EvidenceView(Message):
    """What could be told (None while it is being reckoned), the files that were read, and what they tell of what.

    Of what was `heard` the first of `all_heard`, those matched or alike first.
    """

    sharable: list[Sharable] | None
    reckoning: float | None
    failed: str
    sources: list[SourceView]
    heard: list[HeardOf]
    all_heard: int


class HeardQuery(Message):
    find: str = Field(default="", max_length=200)


class TellOf(Message):
    """A fragrance to be told of, under this name and code; its `claim` too, or not."""

    fragrance: Id
    name: Name = Field(min_length=1)
    code: Name = ""
    claim: bool = True


class Telling(Message):
    """What shall be told; `saved` once the file is kept, and not only looked at."""

    saved: bool = False
    fragrances: list[TellOf] = Field(min_length=1, max_length=2000)


class TellingText(Message):
    """The file, word for word."""

    text: str
    name: str


class EvidenceText(Message):
    text: str = Field(max_length=MOST_TEXT)


class Match(Message):
    """What others call `name` is this fragrance; or none of one's own."""

    name: Name = Field(min_length=1)
    code: Name = ""
    fragrance: Id | None


class SourcePath(Message):
    source_id: str = Field(pattern=r"^[0-9a-f]{16,40}$")
