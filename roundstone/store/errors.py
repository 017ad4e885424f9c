"""What can be wrong with a data file, each with what to do about it."""


class DataFileTrouble(RuntimeError):  # noqa: N818 - read as it is said: trouble with the data file
    """The data file cannot be used; the message says why and what to do. Nothing in it was changed."""


class Missing(LookupError):  # noqa: N818 - read as it is raised: raise Missing
    """There is no such recipe, pour or fragrance."""


class Conflict(RuntimeError):  # noqa: N818
    """Someone else changed it first, or one id was used for two things."""
