"""What stands of a pour at a minute, told by a hand or only assumed; everything that speaks of it reads this."""

from .account import Account, GateNow, PortionNow, StepNow, Where, account_of, gate_of
from .doubts import doubt_of
