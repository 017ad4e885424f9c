"""Who on the network is let in, and to what: the guard before every request, pairing, and the list of devices.

The server of this machine's own screen asks nobody. What comes over the network says so in its environment, whatever
address it claims, and is let in by the cookie of a paired device alone. A device of the bench may do what `BENCH`
lists, by method and path; what stands in no list is not for it.
"""

import re
from collections.abc import Callable, Iterable
from http import HTTPStatus
from io import BytesIO
from typing import Any, cast

import segno
from flask import Response, g, request
from flask_openapi3 import APIBlueprint

from ..core.values import Fault, NotFoundError, RuleError
from ..share import Device, Door, Invitation, Sharing
from ..share.door import COOKIE_LASTS, NotLetInError, NotYoursError
from . import problems
from .context import AppContext, answer
from .messages import door as m

FROM_NETWORK = "roundstone.network"  # in the environment of what came over the network
SHARED = "shared"  # the setting that keeps it
PAGE = "page"  # the endpoint of the front end's files
# With TLS and without; the prefix binds it to this host and to TLS, where browsers know it (RFC 6265bis, 4.1.3.2).
COOKIES = ("__Host-round-stone", "round-stone")
OPEN = {("GET", "/api/me"), ("POST", "/api/pair"), ("GET", "/api/root.crt")}
READ = re.compile(r"/api/data(/[^/]+)?")  # what a token reads
_ID = r"[^/]+"
BENCH = tuple(
    (frozenset(methods.split()), re.compile(path))
    for methods, path in (
        ("GET", rf"/api/(me|words|root\.crt|settings/units|instruments|instruments/{_ID})"),
        ("GET", r"/api/recipes(/names)?"),
        ("GET", rf"/api/recipes/{_ID}/(worksheet|bench-sheet\.pdf)"),
        ("GET POST", rf"/api/recipes/{_ID}/ready"),
        ("GET", rf"/api/(pours|rest|rest\.ics|pours/{_ID}(/rest|/rest\.ics|/sections)?)"),
        ("POST", rf"/api/pours(/{_ID}/events|/{_ID}/photos)?"),
        ("DELETE", rf"/api/pours/{_ID}"),
        ("GET", rf"/api/(photos/{_ID}(/colour)?|faces/{_ID}/{_ID})"),
        ("GET POST PUT", rf"/api/practice(/{_ID}(/debrief|/events|/sights|/speed)?)?"),
    )
)


class FromNetwork:
    """The same app for a server that others on the network reach."""

    def __init__(self, app: Callable[..., Iterable[bytes]]) -> None:
        self.app = app

    def __call__(self, environ: dict[str, Any], start: Callable[..., Any]) -> Iterable[bytes]:
        environ[FROM_NETWORK] = True
        return self.app(environ, start)


def from_network() -> bool:
    """Whether this request came over the network."""
    return bool(request.environ.get(FROM_NETWORK))


def here() -> Device | None:
    """The device this request is of, if it is one."""
    return cast("Device | None", g.get("device"))


def watch(door: Door) -> None:
    """Let this request pass, or raise NotLetInError or NotYoursError. The page itself holds nothing and is open, as is
    an address where nothing is."""
    if not from_network() or request.endpoint in (None, PAGE):
        return
    kind, _, bearer = request.headers.get("Authorization", "").partition(" ")
    if kind.lower() == "bearer":
        g.device = reader = door.reads(bearer.strip())
        if reader is None:
            raise NotLetInError("This token opens nothing: it was sent away, or is not of this workshop.")
        if request.method not in ("GET", "HEAD") or not READ.fullmatch(request.path):
            raise NotYoursError(f"{reader.name} may read the tables under /api/data, and nothing else.")
        return
    g.device = device = door.known(request.cookies.get(_cookie()))
    method = "GET" if request.method == "HEAD" else request.method
    if (method, request.path) in OPEN:
        return
    if device is None:
        raise NotLetInError("This device is not let in: pair it with the code on the workshop's screen.")
    if device.role != "maker" and not any(method in ms and path.fullmatch(request.path) for ms, path in BENCH):
        raise NotYoursError(f"{device.name} is let in for pours and rest alone.")


def at_the_bench() -> bool:
    """Whether a device asks that is let in for pours and rest alone."""
    device = here()
    return device is not None and device.role != "maker"


def _cookie() -> str:
    return COOKIES[0 if request.is_secure else 1]


def _view(context: AppContext) -> m.DevicesView:
    sharing, given = context.sharing, context.door.invitation()
    return m.DevicesView(
        sharing=m.SharingView(url=sharing.url, fingerprint=sharing.fingerprint, secure=sharing.root is not None)
        if sharing
        else None,
        invitation=m.InvitationView(
            code=given.code,
            role=given.role,
            seconds=(given.until - context.now()).total_seconds(),
            link=_link(sharing, given),
        )
        if sharing and given
        else None,
        devices=[
            m.DeviceView(id=d.id, name=d.name, role=d.role, since=d.since, seen=d.seen) for d in context.door.devices()
        ],
        me=device.id if (device := here()) else None,
    )


def _link(sharing: Sharing, given: Invitation) -> str:
    """Where the phone goes; the code is behind the #, which no server is sent."""
    return f"{sharing.url}/pair#{given.code}"


def register(api: APIBlueprint, context: AppContext) -> None:
    """Add the routes of the door."""

    @api.get("/me", responses={200: m.Me})
    def get_me() -> Response:
        """Who asks: this machine's own screen, a device that is let in, or one that is not."""
        device = here()
        role = "maker" if not from_network() else device.role if device else None
        return answer(m.Me(network=from_network(), role=role, name=device.name if device else None))

    @api.post("/pair", responses={200: m.Me, 429: problems.Problem})
    def post_pair(body: m.Pairing) -> Response:
        """A device that knows the code is let in, and gets its cookie."""
        if not from_network():
            raise NotFoundError("This screen needs no code.")
        device, cookie = context.door.pair(body.code, body.name, request.remote_addr or "")
        response = answer(m.Me(network=True, role=device.role, name=device.name))
        response.set_cookie(
            _cookie(), cookie, max_age=COOKIE_LASTS, secure=request.is_secure, httponly=True, samesite="Strict"
        )
        return response

    @api.get("/root.crt")
    def get_root() -> Response:
        """The root to put on a phone, so that it warns no more."""
        if context.sharing is None or context.sharing.root is None:
            raise NotFoundError("There is no certificate: the workshop is not shared, or without one.")
        return Response(context.sharing.root.read_bytes(), content_type="application/x-x509-ca-cert")

    @api.get("/devices", responses={200: m.DevicesView})
    def get_devices() -> Response:
        return answer(_view(context))

    @api.put("/devices/sharing", responses={200: m.DevicesView})
    def put_sharing(body: m.Share) -> Response:
        """Open the network's way in, or close it; it stands so at the next start too."""
        if from_network():
            raise NotYoursError("This is switched on the workshop's own screen.")
        try:
            context.network.open() if body.on else context.network.close()
        except OSError as error:
            message = f"The port for the network cannot be used ({error.strerror}): start with another --share-port."
            raise RuleError(Fault(pointer="/on", message=message)) from error
        context.workshop.settings.keep(SHARED, {"on": body.on})
        return answer(_view(context))

    @api.post("/devices/invitation", responses={200: m.DevicesView})
    def post_invitation(body: m.Invite) -> Response:
        """A code for one more device; the one before lets nobody in any more."""
        if context.sharing is None:
            raise NotFoundError("The network cannot reach this workshop: switch it on first.")
        context.door.invite(body.role)
        return answer(_view(context))

    @api.get("/devices/invitation.svg")
    def get_code() -> Response:
        """The way in as a QR code."""
        sharing, given = context.sharing, context.door.invitation()
        if sharing is None or given is None:
            raise NotFoundError("No code lets anyone in now.")
        out = BytesIO()
        segno.make(_link(sharing, given), error="m").save(
            out, kind="svg", scale=5, border=2, xmldecl=False, dark="#17232a"
        )
        return Response(out.getvalue(), content_type="image/svg+xml", headers={"Cache-Control": "no-store"})

    @api.post("/devices/token", responses={201: m.TokenView})
    def post_token(body: m.NewToken) -> Response:
        """A token for a program of the maker's own: it reads the tables, and is told this once."""
        device, token = context.door.issue(body.name)
        return answer(m.TokenView(name=device.name, token=token), HTTPStatus.CREATED)

    @api.delete("/devices/<device_id>", responses={200: m.DevicesView})
    def delete_device(path: m.DevicePath) -> Response:
        """Send a device away: what it holds opens nothing from now on."""
        context.door.send_away(path.device_id)
        return answer(_view(context))
