"""Photographs of poured bars."""

from http import HTTPStatus

from flask import Response
from flask_openapi3 import APIBlueprint

from . import messages as m
from .context import Bench, answer, bytes_of


def register(api: APIBlueprint, bench: Bench) -> None:
    """Add the photographs' routes."""
    workshop = bench.workshop

    @api.post("/pours/<pour_id>/photos", responses={201: m.PhotoView})
    def post_photo(path: m.PourPath, form: m.NewPhoto) -> Response:
        photo = bench.keep_photo(path.pour_id, bytes_of(form.file), form.days, form.note)
        return answer(m.PhotoView(**vars(photo)), HTTPStatus.CREATED)

    @api.get("/photos/<photo_id>")
    def get_photo(path: m.PhotoPath) -> Response:
        response = Response(workshop.photo(str(path.photo_id)), content_type="image/jpeg")
        response.cache_control.max_age = 31_536_000
        return response

    @api.delete("/photos/<photo_id>", responses={204: None})
    def delete_photo(path: m.PhotoPath) -> Response:
        workshop.remove_photo(str(path.photo_id), bench.now())
        return Response(status=HTTPStatus.NO_CONTENT)

    @api.post("/photos/<photo_id>/restore", responses={204: None})
    def restore_photo(path: m.PhotoPath) -> Response:
        workshop.remove_photo(str(path.photo_id), None)
        return Response(status=HTTPStatus.NO_CONTENT)
