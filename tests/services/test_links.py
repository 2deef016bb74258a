"""Links that open something to whoever has them: the database cannot tell anybody what they are."""

from __future__ import annotations

import secrets

import pytest

from glowreel.core.errors import Missing
from glowreel.services import accounts, brand_sharing, brands, upload_links
from glowreel.services.setup import Runtime
from glowreel.store.keys import digest
from glowreel.store.models import LINKED, UploadLink, new_key, take_up
from glowreel.store.models.keyed import FROM_BEFORE
from tests.conftest import by


@pytest.fixture
def link(runtime: Runtime) -> str:
    """A link for files, by its identifier."""
    with runtime.database.unit() as unit:
        user = accounts.sign_up(unit.session, "Li Nk", f"{new_key('x')}@links.example", "long enough words", "Links")
        return upload_links.make(unit.session, by(user.team_id, user.id), None, 24, 5).id


def test_the_database_holds_no_key(runtime: Runtime, link: str) -> None:
    with runtime.database.unit() as unit:
        row = unit.session.get_one(UploadLink, link)
        assert len(row.token) == 32, "192 bits"
        held = {str(getattr(row, column.key)) for column in UploadLink.__table__.columns}
        assert digest(row.token) in held
        assert not any(row.token in value for value in held)
        assert upload_links.opened(unit.session, row.token).link is row
    assert all("token" not in kind.__table__.columns for kind in LINKED)


def test_a_link_from_before_opens_what_it_did_and_the_page_shows_one_that_does_too(runtime: Runtime, link: str) -> None:
    old = secrets.token_urlsafe(18)
    with runtime.database.unit() as unit:
        row = unit.session.get_one(UploadLink, link)
        row.digest, row.turn = digest(old), FROM_BEFORE
    with runtime.database.unit() as unit:
        assert take_up(unit.session) == 1
        assert take_up(unit.session) == 0, "once"
    with runtime.database.unit() as unit:
        row = unit.session.get_one(UploadLink, link)
        for key in (old, row.token):
            assert upload_links.opened(unit.session, key).link is row
        row.new_link()
        unit.session.flush()
        with pytest.raises(Missing):
            upload_links.opened(unit.session, old)


def test_a_link_that_was_closed_never_opens_again(runtime: Runtime) -> None:
    with runtime.database.unit() as unit:
        user = accounts.sign_up(unit.session, "Bra Nd", f"{new_key('x')}@links.example", "long enough words", "Links")
        actor = by(user.team_id, user.id)
        key = brands.add(unit.session, actor, "Lent").id
        first = brand_sharing.share(unit.session, key, actor, open_=True).token
        assert brand_sharing.share(unit.session, key, actor, open_=True).token == first, "it stays as it is"
        brand_sharing.share(unit.session, key, actor, open_=False)
        second = brand_sharing.share(unit.session, key, actor, open_=True).token
        assert brand_sharing.shared(unit.session, second).id == key
        with pytest.raises(Missing):
            brand_sharing.shared(unit.session, first)
