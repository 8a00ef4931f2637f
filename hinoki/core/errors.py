"""The domain's errors: each says what is wrong, where, and what to do, in one sentence a maker can act on."""

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from pydantic import ValidationError


class HinokiError(Exception):
    """Base of all errors a maker may see.

    `where` names the place (a field of the plan, a byte or a line of a file) when there is one.
    """

    status = 422
    code = "refused"

    def __init__(self, message: str, where: str | None = None) -> None:
        super().__init__(message)
        self.message = message
        self.where = where


class UnreadableModel(HinokiError):
    """A model file that cannot be read."""

    code = "unreadable-model"


class UnreadableCatalogue(HinokiError):
    """A catalogue of a language that cannot be read."""

    code = "unreadable-catalogue"


class TooLarge(HinokiError):
    """A file or a request over a limit."""

    status = 413
    code = "too-large"


class BadPlan(HinokiError):
    """A plan that asks for something that cannot be."""

    code = "bad-plan"


class OpenSurface(HinokiError):
    """Something was asked of an open surface that only a closed one can give."""

    code = "open-surface"


class NotFound(HinokiError):
    """A project, revision or file that is not there."""

    status = 404
    code = "not-found"


class ChangedElsewhere(HinokiError):
    """An edit that was made on a revision which is no longer the newest."""

    status = 409
    code = "changed-elsewhere"


class StepRefused(HinokiError):
    """A prepare step that cannot be done with this shape; the shape stays as it was and a finding says why."""

    code = "step-refused"


class InUse(HinokiError):
    """Something that cannot be taken out while it is used."""

    status = 409
    code = "in-use"


class Overlap(HinokiError):
    """Something laid by hand where something else lies, or off the bed."""

    status = 409
    code = "overlap"


class NotSo(HinokiError):
    """A step in the life of a print or a piece that cannot follow."""

    status = 409
    code = "not-so"


class Cancelled(HinokiError):
    """Work that was stopped because someone asked for it."""

    status = 409
    code = "cancelled"


class Closing(HinokiError):
    """Something was asked while the application is being closed."""

    status = 503
    code = "closing"


def explain(error: "ValidationError") -> tuple[str, str]:
    """The first thing wrong with a document, as one sentence and the place of it."""
    errors = error.errors(include_input=False, include_url=False)
    first = errors[0]
    place = ".".join(str(part) for part in first["loc"]) or "plan"
    if first["type"] == "union_tag_invalid":
        context = first.get("ctx", {})
        sentence = f"{place}: the kind {context.get('tag')!r} is not known; known are {context.get('expected_tags')}."
    elif first["type"] == "union_tag_not_found":
        sentence = f"{place}: the kind is missing."
    else:
        sentence = f"{place}: {first['msg'].removeprefix('Value error, ')}."
    more = len(errors) - 1
    return sentence + (f" ({more} more)" if more else ""), place
