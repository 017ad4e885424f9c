"""Files that are for their owner alone."""

import os
from pathlib import Path


def keep(path: Path, body: bytes) -> None:
    """Write a file whole or not at all, for its owner alone."""
    path.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
    part = path.with_name(f".{path.name}.part")
    part.unlink(missing_ok=True)
    with os.fdopen(os.open(part, os.O_CREAT | os.O_EXCL | os.O_WRONLY, 0o600), "wb") as file:
        file.write(body)
        file.flush()
        os.fsync(file.fileno())
    part.replace(path)
