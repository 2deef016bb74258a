"""The tables. Each row that a person can reach belongs to a team."""

from glowreel.store.models.base import Base, new_key, now
from glowreel.store.models.going_out import Export, ExportFile, ExportPiece
from glowreel.store.models.material import Connection, Derived, MediaFile, Opening, Spoken, Upload, UploadLink, Written
from glowreel.store.models.people import PasswordReset, Press, SignIn, Team, User
from glowreel.store.models.promos import BrandRow, PromoRow, Revision

__all__ = [
    "Base",
    "BrandRow",
    "Connection",
    "Derived",
    "Export",
    "ExportFile",
    "ExportPiece",
    "MediaFile",
    "Opening",
    "PasswordReset",
    "Press",
    "PromoRow",
    "Revision",
    "SignIn",
    "Spoken",
    "Team",
    "Upload",
    "UploadLink",
    "User",
    "Written",
    "new_key",
    "now",
]
