"""How layers are laid out in shapes that they were not made in (see `ruling`)."""

from glowreel.core.arrangement.ruling import ruled, score_of, see
from glowreel.core.arrangement.score import Score

__all__ = ["Score", "ruled", "score_of", "see"]
