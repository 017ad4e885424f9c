"""The one entry point: `python -m roundstone demo | serve | backup | restore | verify | archive | weigh | …`."""

import os

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")  # the matrices are small: a second thread only costs

import click

from .. import __version__
from ..core.values import AppError
from .common import UnreadError, data_directory
from .evidence import evidence
from .files import archive, backup, contract, restore, schema, verify
from .reckoning import compare, cool, plan, weigh
from .serving import demo, serve

__all__ = ["data_directory", "main"]


@click.group()
@click.version_option(__version__, prog_name="Round Stone")
def roundstone() -> None:
    """Round Stone, for cold-process soap makers."""


for command in (demo, serve, weigh, plan, compare, cool, backup, restore, verify, archive, contract, schema, evidence):
    roundstone.add_command(command)


def main(arguments: list[str] | None = None) -> int:
    """Run a command; its exit code: 0 done, 1 it has faults, 2 it could not be done and why was said."""
    try:
        return int(roundstone.main(arguments, prog_name="roundstone", standalone_mode=False) or 0)
    except UnreadError:
        return 2
    except click.ClickException as wrong:
        wrong.show()
        return wrong.exit_code
    except click.Abort:
        return 1
    except (AppError, FileExistsError, FileNotFoundError) as refused:
        click.echo(str(refused), err=True)
        return 2
