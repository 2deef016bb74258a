"""The one way in for documents: whatever they come from, they are upgraded, validated and within the limits."""

from __future__ import annotations

from pydantic import ValidationError

from glowreel.core.document import Promo
from glowreel.core.errors import Refusal
from glowreel.core.limits import check_limits
from glowreel.core.rules import check_rules
from glowreel.core.upgrade import upgrade


def read_document(data: object) -> Promo:
    """A promo from plain data of any version. Raises `Refusal` for what is none, or breaks a rule."""
    try:
        return check_rules(check_limits(Promo.model_validate(upgrade(data))))
    except ValidationError as error:
        first = error.errors(include_url=False, include_context=False)[0]
        where = ".".join(str(part) for part in first["loc"]) or "the whole of it"
        raise Refusal("damaged", "That promo is damaged: its document breaks a rule.", f"({where})") from error
    except (KeyError, TypeError, AttributeError, RecursionError) as error:
        raise Refusal("damaged", "That promo is damaged: its document breaks a rule.") from error
