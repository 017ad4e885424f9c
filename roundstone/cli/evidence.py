"""What workshops tell each other, from a command line: told, read, pooled."""

from datetime import UTC, datetime
from pathlib import Path
from typing import TYPE_CHECKING

import click

from .common import FILE, RefusedError, data_file, tell, with_data, workshop_of

if TYPE_CHECKING:
    from ..core.evidence import Evidence, Pool


@click.group()
def evidence() -> None:
    """What pours saw of fragrances, told to other workshops and heard from them."""


@evidence.command("out")
@click.argument("names", nargs=-1)
@with_data("the data file")
def out(names: tuple[str, ...], data: Path | None) -> int:
    """Print what finished pours saw of fragrances, of those NAMES or of all. Nothing else of the workshop is in it."""
    from ..core.evidence import Evidence
    from ..exchange import evidence_file
    from ..store.learned import Learned

    with workshop_of(data_file(data)) as workshop:
        found = Learned(workshop).saw(wait=True)[0] or {}
        wanted = {n.casefold() for n in names}
        told = tuple(t for t in found.values() if not wanted or t.name.casefold() in wanted)
        missing = wanted - {t.name.casefold() for t in told}
        if missing or not told:
            raise RefusedError(f"No pour saw anything of {', '.join(sorted(missing)) or 'any fragrance'}.")
        file = workshop.evidence.edition(lambda name, n: Evidence(workshop=name, edition=n, fragrances=told))
        click.echo(evidence_file.write(file), nl=False)
    return 0


@evidence.command("read")
@click.argument("file", type=FILE)
@with_data("the data file")
def read(file: Path, data: Path | None) -> int:
    """Take in what another workshop told. Which of its fragrances are yours is said on the shelf, by hand."""
    from ..store import keeping

    held = data_file(data)
    found = _read(file)
    with keeping.held(held), workshop_of(held) as workshop:
        again = workshop.evidence.take_in(found, datetime.now(UTC))
    click.echo(f"{len(found.fragrances)} fragrances{', in place of what was told before' if again else ''}.")
    return 0


@evidence.command("pool")
@click.argument("folder", type=click.Path(exists=True, file_okay=False, path_type=Path))
@click.option("--words", is_flag=True, help="say it in words instead of writing a file")
@click.option("--on", default=None, metavar="ADDRESS", help="of a Dask scheduler that shares the work out")
def pool(folder: Path, words: bool, on: str | None) -> int:
    """Add up all evidence files of a FOLDER, each workshop once, and print the pool."""
    from ..core.evidence import heard_words, others_of, pool_of
    from ..exchange import evidence_file
    from ..exchange.pooling import pooled_folder

    pooled = pooled_folder(folder, on)
    if not pooled.told:
        raise RefusedError(f"{folder}: there is no evidence file in it.")
    if words:
        for name, code, tally in pooled.told.values():
            click.echo(f"{name}{f' ({code})' if code else ''}: ", nl=False)
            tell(heard_words(others_of(tally)))
    else:
        click.echo(evidence_file.write(pool_of(pooled.told, pooled.members)), nl=False)
    return 0


def _read(file: Path) -> "Evidence | Pool":
    from ..core.values import RuleError
    from ..exchange import evidence_file

    try:
        return evidence_file.read(file.read_text(encoding="utf-8"))
    except (OSError, UnicodeDecodeError) as error:
        raise RefusedError(f"{file} cannot be read: {error}") from error
    except RuleError as broken:
        raise RefusedError(f"{file}: {broken}") from broken
