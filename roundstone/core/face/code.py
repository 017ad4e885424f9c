"""A face as a short text for addresses and stores, and back."""

from pydantic import ValidationError

from ..values import Fault, RuleError
from .face import Face, FacePortion


def coded(face: Face) -> str:
    """The face as one word: technique, seed, and each portion's share (thousandths), level (tenths), grain and tint.

    >>> coded(Face(technique="plain", portions=(FacePortion(share=1, tint="#e6dcc3", level=2.4),), seed=3))
    'plain.3.1000-24-0-e6dcc3'
    """
    portions = (
        f"{round(1000 * p.share)}-{round(10 * p.level)}-{int(p.grain >= 0.5)}-{p.tint[1:]}" for p in face.portions
    )
    return ".".join((face.technique, str(face.seed), *portions))


def decoded(code: str) -> Face:
    """The face of a code; RuleError for what is none.

    >>> decoded("plain.3.1000-24-0-e6dcc3").portions[0].level
    2.4
    """
    try:
        technique, seed, *portions = code.split(".")
        faced = []
        for portion in portions:
            share, level, grain, tint = portion.split("-")
            faced.append(FacePortion(share=int(share) / 1000, level=int(level) / 10, grain=int(grain), tint=f"#{tint}"))
        return Face(technique=technique, portions=tuple(faced), seed=int(seed))
    except (ValueError, ValidationError) as error:
        raise RuleError(Fault(pointer="/code", message="This is not the code of a face.")) from error
