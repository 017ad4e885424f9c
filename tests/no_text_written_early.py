"""A plugin of mypy: a `Text`, or a value of one, is never written out by an f-string, `str.format` or `%`.

There it would be told in metric whoever reads it.
"""

from collections.abc import Callable

from mypy.plugin import MethodContext, Plugin
from mypy.types import Instance, TupleType, Type, UnionType, get_proper_type

OURS = {f"roundstone.core.text.{name}" for name in ("Text", "Figure", "Quantity", "Reading", "Day", "Measured")}


def _is_text(type_: Type) -> bool:
    proper = get_proper_type(type_)
    if isinstance(proper, TupleType):
        proper = proper.partial_fallback
    if isinstance(proper, UnionType):
        return any(map(_is_text, proper.items))
    if isinstance(proper, Instance):
        return proper.type.fullname in OURS or any(map(_is_text, proper.args))
    return False


def _checked(context: MethodContext) -> Type:
    for types in context.arg_types:
        if any(map(_is_text, types)):
            context.api.fail("A Text is put together by say() and joined(), not written into a string", context.context)
    return context.default_return_type


class NoTextWrittenEarly(Plugin):
    def get_method_hook(self, fullname: str) -> Callable[[MethodContext], Type] | None:
        return _checked if fullname in ("builtins.str.format", "builtins.str.__mod__") else None


def plugin(version: str) -> type[Plugin]:
    return NoTextWrittenEarly
