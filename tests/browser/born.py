"""What every server reckons as it starts, reckoned once in the process they are born of."""

from roundstone.store import keeping

keeping.revisions()
