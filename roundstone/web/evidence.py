"""What other workshops saw: files told and read, and whose fragrance is whose."""

from http import HTTPStatus

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.evidence import Evidence, Key, Named, ToldOf, heard_words, key_of, others_of, pooled_names, told_words
from ..core.shelf import Claim, KnownAs
from ..core.values import Fault, RuleError
from ..exchange import evidence_file
from . import messages as m
from .context import AppContext, answer

MOST_HEARD = 60  # that one answer lists


def _pooled(context: AppContext) -> dict[Key, Named]:
    """Everything others told, added up once for what was read."""
    sources = context.workshop.ingredients.sources()
    stamp = tuple((s.id, s.read) for s in sources)
    if not context.pooled or context.pooled[0][0] != stamp:
        context.pooled[:] = [(stamp, pooled_names(s.file for s in sources))]
    return context.pooled[0][1]


def _heard(context: AppContext, find: str) -> tuple[list[m.HeardOf], int]:
    """What others told of, those of the maker's own shelf first."""
    fragrances = context.workshop.ingredients.shelf().fragrances.values()
    matched = {key_of(n.name, n.code): f.id for f in fragrances for n in f.known_as}
    names = {key_of(f.name)[0]: f.id for f in fragrances}
    codes = {key_of("", f.code)[1]: f.id for f in fragrances if f.code}
    told = _pooled(context)
    rows = []
    for key, (name, code, tally) in told.items():
        if find.casefold() not in f"{name} {code}".casefold():
            continue
        like = (codes.get(key[1]) if key[1] else None) or names.get(key[0])
        rows.append((key not in matched, like is None, name.casefold(), key, name, code, tally, like))
    rows.sort(key=lambda r: r[:4])
    shown = [
        m.HeardOf(name=name, code=code, words=heard_words(others_of(tally)), fragrance=matched.get(key), like=like)
        for *_, key, name, code, tally, like in rows[:MOST_HEARD]
    ]
    return shown, len(rows)


def _view(context: AppContext, find: str = "") -> m.EvidenceView:
    found, job = context.learned.saw()
    heard, count = _heard(context, find)
    return m.EvidenceView(
        sharable=None
        if found is None
        else [m.Sharable(fragrance=i, told=t, words=told_words(t)) for i, t in found.items()],
        reckoning=job.progress,
        failed=job.failed,
        sources=[
            m.SourceView(
                id=s.id,
                workshops=s.file.workshops,
                fragrances=len(s.file.fragrances),
                read=s.read,
            )
            for s in context.workshop.ingredients.sources()
        ],
        heard=heard,
        all_heard=count,
    )


def _told(tell: m.TellOf, told: ToldOf) -> ToldOf:
    claim = told.claim if tell.claim else Claim.UNKNOWN
    return told.model_copy(update={"name": tell.name, "code": tell.code, "claim": claim})


def register(api: APIBlueprint, context: AppContext) -> None:
    """Add the routes of evidence."""
    workshop = context.workshop

    @api.get("/evidence", responses={200: m.EvidenceView})
    def get_evidence(query: m.HeardQuery) -> Response:
        return answer(_view(context, query.find))

    @api.post("/evidence", responses={201: m.EvidenceView})
    def post_evidence(body: m.EvidenceText) -> Response:
        workshop.evidence.take_in(evidence_file.read(body.text), context.now())
        return answer(_view(context), HTTPStatus.CREATED)

    @api.delete("/evidence/<source_id>", responses={200: m.EvidenceView})
    def delete_evidence(path: m.SourcePath) -> Response:
        workshop.evidence.take_out(path.source_id)
        return answer(_view(context))

    @api.post("/evidence/told", responses={200: m.TellingText})
    def post_told(body: m.Telling) -> Response:
        """What would leave, word for word; nothing leaves by itself."""
        found, _ = context.learned.saw(wait=True)
        told = found or {}
        faults, rows, keys = [], [], set()
        for i, tell in enumerate(body.fragrances):
            key = key_of(tell.name, tell.code)
            if tell.fragrance not in told:
                message = "No pour of it saw anything that could be told."
                faults.append(Fault(pointer=f"/fragrances/{i}/fragrance", message=message))
            elif key in keys:
                message = "Two would be told under this name: give one of them another, or the supplier's code."
                faults.append(Fault(pointer=f"/fragrances/{i}/name", message=message))
            else:
                rows.append(_told(tell, told[tell.fragrance]))
            keys.add(key)
        if faults:
            raise RuleError(*faults)
        file = workshop.evidence.edition(
            lambda name, n: Evidence(workshop=name, edition=n, fragrances=tuple(rows)), body.saved
        )
        return answer(m.TellingText(text=evidence_file.write(file), name="evidence.json"))

    @api.put("/evidence/match", responses={200: m.EvidenceView})
    def put_match(body: m.Match) -> Response:
        """The maker says which fragrance is meant by a name; it is meant by no other then."""
        key = key_of(body.name, body.code)
        if body.fragrance is not None:
            workshop.ingredients.fragrance(body.fragrance)
        changed = []
        for f in workshop.ingredients.shelf().fragrances.values():
            names = tuple(n for n in f.known_as if key_of(n.name, n.code) != key)
            if f.id == body.fragrance:
                names = (*names, KnownAs(name=body.name, code=body.code))
            if names != f.known_as:
                changed.append(f.model_copy(update={"known_as": names}))
        if changed:
            workshop.ingredients.change_fragrances(changed)
        return answer(_view(context))
