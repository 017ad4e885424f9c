"""What several commands share: where data lives, how core's words are told, files and workshops that are read."""

import sys
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING, Any, TextIO

import click

from ..core.text import Part, say
from ..core.values import AppError

if TYPE_CHECKING:
    from ..core.recipe import Recipe
    from ..core.shelf import Shelf
    from ..store import Workshop

FILE = click.Path(path_type=Path)


class RefusedError(AppError):
    """It cannot be done; why was said in one sentence."""


class UnreadError(AppError):
    """A file could not be read; why was said on standard error."""


def data_directory() -> Path:
    """The user's data directory on this kind of machine."""
    from platformdirs import user_data_path

    return user_data_path("roundstone", appauthor=False)


def data_file(given: Path | None, demo: bool = False) -> Path:
    """The data file that is meant: as given, else the user's own."""
    path = given or data_directory() / ("demo.sqlite" if demo else "workshop.sqlite")
    return path.expanduser().absolute()


def with_data(words: str) -> Callable[..., Any]:
    """The option that names a data file."""
    return click.option("--data", type=FILE, default=None, metavar="FILE", help=words)


def tell(text: Part, to: TextIO | None = None) -> None:
    """What core has worded, in metric; without a server there is nobody to have other units."""
    click.echo(str(text), file=to)


def recipe_of(file: Path, shelf: "Shelf") -> "tuple[Recipe, Shelf]":
    """The recipe in a file, and the shelf with what the file brings of its own."""
    from ..core.values import RuleError
    from ..exchange import sheet_file

    try:
        text = sys.stdin.read() if str(file) == "-" else file.read_text(encoding="utf-8")
        found = sheet_file.read_either(text, file.stem, shelf)
        return found.recipe, found.uses.on(shelf) if found.uses else shelf
    except (OSError, UnicodeDecodeError) as error:
        click.echo(f"{file} cannot be read: {error}", err=True)
    except RuleError as broken:
        for fault in broken.faults:
            tell(say(fault.pointer or "/", ": ", fault.message), sys.stderr)
    raise UnreadError


@contextmanager
def workshop_of(data: Path) -> "Iterator[Workshop]":
    """The workshop in a data file that is there."""
    from ..store import Workshop, keeping

    if keeping.check(data) is None:
        raise RefusedError(f"{data}: there is no such data file.")
    workshop = Workshop(data)
    try:
        yield workshop
    finally:
        workshop.close()


def shelf_of(data: Path | None) -> "Shelf":
    """What stands on the shelf: to weigh, nothing need be learned."""

    from ..reference import shelf as reference_shelf

    if data is None:
        return reference_shelf()
    with workshop_of(data) as workshop:
        return workshop.ingredients.shelf()
