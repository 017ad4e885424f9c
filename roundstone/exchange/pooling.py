"""A folder of evidence files as one pool: here, or shared out by an existing engine. See docs/scale.md."""

from collections.abc import Iterable, Sequence
from pathlib import Path
from typing import TypeVar

from ..core.evidence import Evidence, Key, Named, Pool, merged, pooled_names
from ..core.values import AppError, RuleError
from . import evidence_file

T = TypeVar("T")
PART = 500  # files that are read together


class PoolingError(AppError):
    """The files cannot be pooled; why was said in one sentence."""


def pooled_folder(folder: Path, on: str | None = None) -> dict[Key, Named]:
    """What all evidence files of a folder tell; by the Dask scheduler `on` an address, where one is named."""
    files = sorted(folder.glob("*.json"))
    if on is None:
        out: dict[Key, Named] = {}
        for paths in _parts(_latest(map(whose, _parts(files)))):
            out = merged(out, part(paths))
        return out
    try:
        from dask.distributed import Client
    except ImportError as missing:
        raise PoolingError("Sharing out needs Dask: pip install 'roundstone[scale]'.") from missing
    with Client(on) as client:  # type: ignore[no-untyped-call] # it has no types
        told = client.gather(client.map(whose, _parts(files)))
        waiting = client.map(part, _parts(_latest(told)))
        while len(waiting) > 1:  # added up in pairs, as a tree: no machine holds more than two pools
            pairs = _parts(waiting, 2)
            waiting = [client.submit(_both, *p) if len(p) > 1 else p[0] for p in pairs]
        return dict(waiting[0].result()) if waiting else {}


def _parts(of: Sequence[T], size: int = PART) -> list[Sequence[T]]:
    return [of[i : i + size] for i in range(0, len(of), size)]


def whose(paths: Iterable[Path]) -> list[tuple[str, int, Path]]:
    """Whose each file is, and its edition."""
    return [(*evidence_file.whose(_text(path)), path) for path in paths]


def _latest(told: Iterable[Iterable[tuple[str, int, Path]]]) -> list[Path]:
    """Of each workshop the latest edition alone: what a pool adds up twice nobody can take out of it."""
    of: dict[str, tuple[int, Path]] = {}
    for name, edition, path in (row for rows in told for row in rows):
        if name not in of or of[name][0] <= edition:
            of[name] = (edition, path)
    return [path for _, path in of.values()]


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
