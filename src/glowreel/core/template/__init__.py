"""Templates: what is said of one, how a designer writes one, and how it becomes a promo with slots."""

from glowreel.core.template.facts import CATEGORIES, FAMILIES, MOODS, OCCASIONS, RULES, Facts, Origin
from glowreel.core.template.pattern import Pattern, PatternLayer, PatternScene

__all__ = [
    "CATEGORIES", "FAMILIES", "MOODS", "OCCASIONS", "RULES", "Facts", "Origin", "Pattern", "PatternLayer",
    "PatternScene",
]  # fmt: skip
