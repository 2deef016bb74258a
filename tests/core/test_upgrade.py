"""Documents of every version there was open in this one, and nothing else does."""

import json
from pathlib import Path

import pytest

from glowreel.core.document import VERSION, Promo
from glowreel.core.errors import Refusal
from glowreel.core.timeline import timeline
from glowreel.core.upgrade import STEPS, upgrade
from tests.core.build import S

GOLDEN = Path(__file__).parent / "golden"


def golden(version: int) -> dict[str, object]:
    return json.loads((GOLDEN / f"version-{version}.json").read_text())


@pytest.mark.parametrize("version", range(1, VERSION + 1))
def test_a_document_of_that_version_opens_as_it_was(version: int) -> None:
    data = golden(version)
    promo = Promo.model_validate(upgrade(data))
    assert data == golden(version), "the input is untouched"
    assert promo.version == VERSION
    assert list(dict.fromkeys(clip.name for clip in promo.clips)) == ["ridge", "still", "field"]
    assert timeline(promo).length == (14 if version > 1 else 19) * S
    assert promo.rate_chosen is (version < 3), "what was cut at a rate stays at it"
    texts = [item.values.get("text", "") for item in promo.items]
    assert "Fly at\nfirst light" in texts
    assert Promo.model_validate(upgrade(promo.model_dump(mode="json"))) == promo


def test_there_is_a_step_from_every_version() -> None:
    assert set(STEPS) == set(range(1, VERSION))


@pytest.mark.parametrize("version", [0, -4, None, "2", 1.5, True])
def test_what_is_no_version_is_refused(version: object) -> None:
    with pytest.raises(Refusal, match="does not say its version"):
        upgrade({**golden(2), "version": version})


def test_a_newer_document_is_refused_in_a_sentence() -> None:
    with pytest.raises(Refusal, match="newer Glow Reel"):
        upgrade({**golden(2), "version": VERSION + 1})
    with pytest.raises(Refusal, match="not a promo"):
        upgrade([])
