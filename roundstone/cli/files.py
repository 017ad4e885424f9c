"""Copies of a data file, archives of what is in it, and the documents that describe it all."""

import json
from datetime import UTC, datetime
from pathlib import Path

import click

from .common import FILE, RefusedError, data_file, tell, with_data


@click.command()
@click.argument("to", type=FILE, required=False)
@with_data("the data file")
def backup(to: Path | None, data: Path | None) -> int:
    """A whole copy of a data file, also while it is in use: TO is a file or folder ('copies' beside it if not said)."""
    from ..store import keeping

    file = data_file(data)
    if keeping.check(file, write=False) is None:
        raise RefusedError(f"{file}: there is no such data file.")
    if to is None:
        kept = keeping.Copies(file, file.parent / "copies", keep=10_000).make(datetime.now(UTC))
        made = kept.path
    else:
        made = keeping.copy(file, to / file.name if to.is_dir() else to)
    click.echo(made)
    return 0


@click.command()
@click.argument("copy", type=FILE)
@with_data("the data file")
def restore(copy: Path, data: Path | None) -> int:
    """Put a copy in the data file's place; nothing is written over: what was there stays beside it."""
    from ..store import keeping

    if keeping.check(copy, write=False) is None:
        raise RefusedError(f"{copy}: there is no such copy.")
    file = data_file(data)
    aside = keeping.restore(copy, file, datetime.now(UTC))
    click.echo(f"{file} is {copy} as it was." + (f" What was there before is {aside}." if aside else ""))
    return 0


@click.command()
@click.argument("file", type=FILE)
def verify(file: Path) -> int:
    """Whether a file is a whole data file of this program, and what is in it."""
    from ..store import keeping

    revision = keeping.check(file, write=False)
    if revision is None:
        raise RefusedError(f"{file}: there is no such data file.")
    click.echo(
        f"{file} is whole (tables {revision}): " + ", ".join(f"{n} {w}" for w, n in keeping.counts(file).items())
    )
    return 0


@click.command()
@click.argument("act", type=click.Choice(("write", "read")))
@click.argument("file", type=FILE)
@with_data("the data file")
def archive(act: str, file: Path, data: Path | None) -> int:
    """Everything as one zip of JSON, CSV and pictures, out or in."""
    from ..core.values import RuleError
    from ..exchange import archive as archives
    from ..store import Workshop, keeping

    held = data_file(data)
    if act == "write" and keeping.check(held, write=False) is None:
        raise RefusedError(f"{held}: there is no such data file.")
    with keeping.held(held):
        workshop = Workshop(held)
        try:
            if act == "write":
                if file.exists():
                    raise RefusedError(f"{file} is there already: nothing was written over.")
                with file.open("xb") as out:
                    archives.write(workshop.database, workshop.pours.page(), out)
                click.echo(file)
            else:
                with file.open("rb") as found:
                    tell(archives.told(archives.read(workshop, found)))
        except RuleError as broken:
            raise RefusedError(f"{file}: {broken}") from broken
        finally:
            workshop.close()
    return 0


@click.command()
def contract() -> int:
    """Print the OpenAPI document that the front end's types are made from."""
    import tempfile

    from ..store import Workshop
    from ..web import create_app

    with tempfile.TemporaryDirectory() as folder:
        workshop = Workshop(Path(folder) / "contract.sqlite")
        document = create_app(workshop, document=True).api_doc  # type: ignore[attr-defined]
        workshop.close()
    click.echo(json.dumps(document, indent=1, sort_keys=True))
    return 0


@click.command()
@click.argument("of", type=click.Choice(("recipe", "evidence")), default="recipe")
def schema(of: str) -> int:
    """Print the JSON Schema of a recipe file, or of an evidence file."""
    from ..exchange import evidence_file, recipe_file

    click.echo(json.dumps((recipe_file if of == "recipe" else evidence_file).schema(), indent=2))
    return 0
