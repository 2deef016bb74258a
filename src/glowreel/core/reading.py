"""The one way in for documents: whatever they come from, they are upgraded, validated and within the limits."""

from __future__ import annotations

from pydantic import ValidationError

from glowreel.core.commands.conform import at_rate
from glowreel.core.document import VERSION, Promo
from glowreel.core.errors import Refusal
from glowreel.core.limits import check_limits
from glowreel.core.rules import check_rules
from glowreel.core.upgrade import upgrade


def read_document(data: object) -> Promo:
    """A promo from plain data of any version. Raises `Refusal` for what is none, or breaks a rule."""
    try:
        promo = check_limits(Promo.model_validate(upgrade(data)))
        # Earlier programs did not see to it that everything lies on whole frames.
        old = isinstance(data, dict) and data["version"] < VERSION
        return check_rules(at_rate(promo, promo.rate) if old else promo)
    except ValidationError as error:
        first = error.errors(include_url=False, include_context=False)[0]
        where = ".".join(str(part) for part in first["loc"]) or "the whole of it"
        raise Refusal("damaged", "That promo is damaged: its document breaks a rule.", f"({where})") from error
    except (KeyError, TypeError, AttributeError, RecursionError) as error:
        raise Refusal("damaged", "That promo is damaged: its document breaks a rule.") from error
