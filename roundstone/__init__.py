"""Round Stone: formulate, forecast, pour and learn, for cold-process soap makers."""

__version__ = "0.1.0"
