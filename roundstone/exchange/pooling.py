"""A folder of evidence files as one pool: here, or shared out by an existing engine. See docs/scale.md."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import TypeVar

from ..core.evidence import Evidence, Key, Named, Pool, merged, pooled_names
from ..core.values import AppError, RuleError
from . import evidence_file

T = TypeVar("T")
PART = 500  # files that are read together


class PoolingError(AppError):
    """The files cannot be pooled; why was said in one sentence."""


@dataclass(frozen=True)
class Pooled:
    """What files tell, and who is in it as a pool names them."""

    told: dict[Key, Named]
    members: tuple[str, ...]


def pooled_folder(folder: Path, on: str | None = None) -> Pooled:
    """What all evidence files of a folder tell, each workshop once; by the Dask scheduler `on` an address, where one is
    named. PoolingError where somebody would be counted twice."""
    files = sorted(folder.glob("*.json"))
    if on is None:
        out: dict[Key, Named] = {}
        latest, members = _latest(map(whose, _parts(files)))
        for paths in _parts(latest):
            out = merged(out, part(paths))
        return Pooled(out, members)
    try:
        from dask.distributed import Client
    except ImportError as missing:
        raise PoolingError("Sharing out needs Dask: pip install 'roundstone[scale]'.") from missing
    with Client(on) as client:  # type: ignore[no-untyped-call] # it has no types
        told = client.gather(client.map(whose, _parts(files)))
        latest, members = _latest(told)
        waiting = client.map(part, _parts(latest))
        while len(waiting) > 1:  # added up in pairs, as a tree: no machine holds more than two pools
            pairs = _parts(waiting, 2)
            waiting = [client.submit(_both, *p) if len(p) > 1 else p[0] for p in pairs]
        return Pooled(dict(waiting[0].result()) if waiting else {}, members)


def _parts(of: Sequence[T], size: int = PART) -> list[Sequence[T]]:
    return [of[i : i + size] for i in range(0, len(of), size)]


Whose = tuple[str, int, tuple[str, ...], Path]  # a file's made-up name, edition, who is in it, and where it is


def whose(paths: Iterable[Path]) -> list[Whose]:
    """Whose each file is, and who is in it."""
    return [(*evidence_file.whose(_text(path)), path) for path in paths]


def _latest(told: Iterable[Iterable[Whose]]) -> tuple[list[Path], tuple[str, ...]]:
    """Of each workshop the latest edition alone, and who is in them all: what a pool adds up twice nobody can take out
    of it."""
    of: dict[str, tuple[int, tuple[str, ...], Path]] = {}
    for name, edition, who, path in (row for rows in told for row in rows):
        if name not in of or of[name][0] <= edition:
            of[name] = (edition, who, path)
    first: dict[str, Path] = {}
    for _, who, path in of.values():
        for one in who:
            if one in first:
                raise PoolingError(f"{first[one]} and {path} hold one workshop both: leave one of them out.")
            first[one] = path
    return [path for *_, path in of.values()], tuple(first)


def _text(path: Path) -> str:
    try:
        return path.read_text(encoding="utf-8")
    except (OSError, UnicodeDecodeError) as error:
        raise PoolingError(f"{path} cannot be read: {error}") from error


def _read(path: Path) -> Evidence | Pool:
    try:
        return evidence_file.read(_text(path))
    except RuleError as error:
        raise PoolingError(f"{path}: {error}") from error


def part(paths: Iterable[Path]) -> dict[Key, Named]:
    """What some files tell."""
    return pooled_names(_read(p) for p in paths)


def _both(one: dict[Key, Named], other: dict[Key, Named]) -> dict[Key, Named]:
    return merged(dict(one), other)
