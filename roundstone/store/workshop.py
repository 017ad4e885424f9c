"""One workshop in one SQLite file. Every write is one transaction; ids and times are passed in."""

from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import Any

from .database import Database
from .documents import Documents
from .evidence import EvidenceFiles
from .ingredients import Ingredients
from .lots import Lots
from .merge import Merged
from .numbers import BatchNumbers
from .patterns import Patterns
from .pictures import Pictures
from .pours import Pours
from .recipes import Recipes
from .settings import Settings
from .stamps import Stamps


class Workshop:
    """Everything a maker keeps: one data file, opened (and migrated), and a repository for each kind of thing in it."""

    def __init__(self, path: Path) -> None:
        self.database = Database(path)
        self.stamps = Stamps(self.database)
        self.settings = Settings(self.database)
        self.ingredients = Ingredients(self.database, self.settings, self.stamps)
        self.recipes = Recipes(self.database, self.ingredients)
        self.pours = Pours(self.database, self.recipes)
        self.lots = Lots(self.database)
        self.pictures = Pictures(self.database)
        self.documents = Documents(self.database)
        self.patterns = Patterns(self.database)
        self.numbers = BatchNumbers(self.database, self.settings)
        self.evidence = EvidenceFiles(self.database, self.settings)
        self.recipes.keep_weights()

    @property
    def path(self) -> Path:
        return self.database.path

    def become(self, copy: Path) -> None:
        """Be what a copy holds, all of it or nothing: DataFileError where it is none that can be read."""
        self.database.become(copy)
        for repository in (self.ingredients, self.recipes, self.pours):
            repository.forget()
        self.recipes.keep_weights()

    def take_in_dump(
        self, rows: Mapping[str, Sequence[dict[str, Any]]], files: Mapping[str, bytes], origin: str = ""
    ) -> Merged:
        """Add what another data file holds and this one does not, all or nothing: see `Database.take_in_dump`."""
        merged = self.database.take_in_dump(rows, files, origin)
        self.recipes.keep_weights()
        return merged

    def close(self) -> None:
        """Everything into the one file, so that copying it copies all. What still runs behind can do nothing after."""
        self.database.close()
