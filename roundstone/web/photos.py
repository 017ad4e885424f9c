"""Photographs of poured bars."""

from http import HTTPStatus
from io import BytesIO

from flask import Response
from flask_openapi3 import APIBlueprint
from PIL import Image, ImageStat

from ..core.face import Tint
from ..core.logbook import colour_name, moment_at
from . import messages as m
from .context import AppContext, answer, bytes_of

SPOT = 0.02  # of a picture's longer side, to each side of where it was tapped [chosen]


def spot(jpeg: bytes, x: float, y: float) -> Tint:
    """The colour at a place (shares from the top left) of a picture."""
    with Image.open(BytesIO(jpeg)) as image:
        wide, high = image.size
        half = max(round(SPOT * max(wide, high)), 1)
        across, down = round(x * (wide - 1)), round(y * (high - 1))
        left, top = max(across - half, 0), max(down - half, 0)
        box = (left, top, min(across + half, wide - 1) + 1, min(down + half, high - 1) + 1)
        red, green, blue = ImageStat.Stat(image.convert("RGB").crop(box)).median
    return f"#{red:02x}{green:02x}{blue:02x}"


def register(api: APIBlueprint, context: AppContext) -> None:
    """Add the photographs' routes."""
    workshop = context.workshop

    @api.post("/pours/<pour_id>/photos", responses={201: m.PhotoView})
    def post_photo(path: m.PourPath, form: m.NewPhoto) -> Response:
        photo = context.keep_photo(path.pour_id, bytes_of(form.file), form.days, form.note)
        return answer(m.PhotoView(**vars(photo)), HTTPStatus.CREATED)

    @api.get("/photos/<photo_id>")
    def get_photo(path: m.PhotoPath) -> Response:
        response = Response(workshop.pictures.get(str(path.photo_id)), content_type="image/jpeg")
        response.cache_control.max_age = 31_536_000
        return response

    @api.get("/photos/<photo_id>/colour", responses={200: m.SpotColour})
    def get_colour(path: m.PhotoPath, query: m.SpotPath) -> Response:
        """The colour of a spot: its middle pixel by each channel, so that a bubble or a crumb does not tell."""
        tint = spot(workshop.pictures.get(str(path.photo_id)), query.x, query.y)
        return answer(m.SpotColour(tint=tint, name=colour_name(tint), at=moment_at(query.days)))

    @api.delete("/photos/<photo_id>", responses={204: None})
    def delete_photo(path: m.PhotoPath) -> Response:
        workshop.pictures.remove(str(path.photo_id), context.now())
        return Response(status=HTTPStatus.NO_CONTENT)

    @api.post("/photos/<photo_id>/restore", responses={204: None})
    def restore_photo(path: m.PhotoPath) -> Response:
        workshop.pictures.remove(str(path.photo_id), None)
        return Response(status=HTTPStatus.NO_CONTENT)
