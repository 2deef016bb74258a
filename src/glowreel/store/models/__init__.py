"""The tables. Each row that a person can reach belongs to a team."""

from glowreel.store.models.base import Base, new_key, now
from glowreel.store.models.batches import Batch, BatchRow
from glowreel.store.models.channels import ChannelAccount, Delivery, Post
from glowreel.store.models.going_out import Export, ExportFile, ExportPiece, WatchCount, WatchPage, WatchQuestion
from glowreel.store.models.keyed import LINKED, take_up
from glowreel.store.models.material import Connection, Derived, MediaFile, Opening, Spoken, Upload, UploadLink, Written
from glowreel.store.models.people import Invitation, Letter, Member, PasswordReset, Press, SignIn, Team, User
from glowreel.store.models.programs import ApiToken, Done, Hook, HookCall
from glowreel.store.models.promos import BrandRow, PromoRow, Revision
from glowreel.store.models.screenings import Screening, ScreeningNote, Verdict
from glowreel.store.models.turns import Turn, TurnCount

__all__ = [
    "LINKED",
    "ApiToken",
    "Base",
    "Batch",
    "BatchRow",
    "BrandRow",
    "ChannelAccount",
    "Connection",
    "Delivery",
    "Derived",
    "Done",
    "Export",
    "ExportFile",
    "ExportPiece",
    "Hook",
    "HookCall",
    "Invitation",
    "Letter",
    "MediaFile",
    "Member",
    "Opening",
    "PasswordReset",
    "Post",
    "Press",
    "PromoRow",
    "Revision",
    "Screening",
    "ScreeningNote",
    "SignIn",
    "Spoken",
    "Team",
    "Turn",
    "TurnCount",
    "Upload",
    "UploadLink",
    "User",
    "Verdict",
    "WatchCount",
    "WatchPage",
    "WatchQuestion",
    "Written",
    "new_key",
    "now",
    "take_up",
]
