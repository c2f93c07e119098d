"""Ask what the API answers, in this process: the same words, fields and refusals, no server."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar

from pydantic import ValidationError

from lowfold.api.fields import Ask
from lowfold.api.problems import field_error
from lowfold.api.wire import as_json
from lowfold.commands.printing import refuse
from lowfold.core.errors import LowfoldError

__all__ = ["answer"]

Asked = TypeVar("Asked", bound=Ask)


def answer(
    kind: type[Asked], endpoint: Callable[..., Any], body: dict[str, Any], **stock: Any
) -> Any:
    """Return what the API answers to a request, as JSON; a refusal ends the command in its words.

    Parameters
    ----------
    kind : type
        Of the request.
    endpoint : callable
        That answers it.
    body : dict
        The request.
    **stock
        What else the endpoint is given: the user's own families, meters.
    """
    try:
        return as_json(endpoint(kind.model_validate(body), **stock))
    except ValidationError as error:
        wrong = [field_error(each) for each in error.errors(include_url=False)]
        refuse(*(f"{each.field}: {each.message}" for each in wrong))
    except LowfoldError as error:
        refuse(error.message)
