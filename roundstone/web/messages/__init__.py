"""What goes over the wire beside core's own values: one module a room of the app."""

from .common import *
from .evidence import *
from .pours import *
from .recipes import *
from .reckon import *
from .rest import *
from .settings import *
from .shelf import *
from .words import *
