"""Every change a promo can undergo: small typed values, each a pure `(promo, context) -> edit` or a refusal.

One module for each family. `apply` is the only way in.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Any, get_args

from pydantic import Field, TypeAdapter, ValidationError

from glowreel.core.commands.adjustment import AddAdjustment
from glowreel.core.commands.apart import TakeApart
from glowreel.core.commands.arrange import AlignItems, OrderItems, SizeItems, SpreadItems
from glowreel.core.commands.balance import Balance
from glowreel.core.commands.base import Command, Context, Outcome
from glowreel.core.commands.brand import SwitchBrand, WearPalette
from glowreel.core.commands.calm import PlaceCalm
from glowreel.core.commands.camera import FrameClip, PanZoom, PunchIn
from glowreel.core.commands.captions import (
    AddCaptions,
    AddCue,
    PlaceCaptions,
    RemoveCaptions,
    RemoveCue,
    ReplaceInWords,
    SayCue,
    SetCaptions,
    SetCue,
    TakeCues,
    TimeWords,
    TypeWords,
)
from glowreel.core.commands.checks import DismissCheck
from glowreel.core.commands.clips import InsertClips, InsertFiller, MoveClips
from glowreel.core.commands.collage import AddCollage, ArrangeCells, FillCell, FitCollage, MoveDivider, SwapCells
from glowreel.core.commands.cutting import Overwrite, Replace, RollCut, Slip
from glowreel.core.commands.designs import AddDesign, FillPicture, SwitchDesign
from glowreel.core.commands.effects import AddEffect, MoveEffect, RemoveEffect
from glowreel.core.commands.everywhere import FillMissing, ReplaceEverywhere
from glowreel.core.commands.formats import (
    AddFormat,
    CopyChanges,
    CopyFormat,
    MoveFormat,
    RemoveFormat,
    SetChannels,
    SetFormat,
    ToRule,
)
from glowreel.core.commands.ground import PutBehind, SetGround
from glowreel.core.commands.hearing import CutToBeat, LayRoomTone, MarkMoments, RunSound, SetWhole, StepHalf
from glowreel.core.commands.layers import AddPicture, AddWords, MoveItem, TieItem
from glowreel.core.commands.lift import ToLayer, ToMain
from glowreel.core.commands.locks import refuse_locked
from glowreel.core.commands.loosen import FreeCollage
from glowreel.core.commands.notes import AddNote, SetNote
from glowreel.core.commands.pages import LayPages
from glowreel.core.commands.paste import Duplicate, Paste
from glowreel.core.commands.points import AddPoint, MovePoint, RemovePoint, SetPoint
from glowreel.core.commands.promo import Rename
from glowreel.core.commands.ranges import CloseGap, RemoveRange
from glowreel.core.commands.rate import SetRate
from glowreel.core.commands.remove import Remove
from glowreel.core.commands.scenes import (
    BreakScene,
    InsertScene,
    JoinScene,
    MoveScene,
    RemoveScene,
    RenameScene,
    SetSceneLength,
)
from glowreel.core.commands.selection import Group, MoveItems, TrimBy, TrimTo
from glowreel.core.commands.setting import CopyLook, PinItems, PlaceItem, Reset, Set
from glowreel.core.commands.shapes import AddShape
from glowreel.core.commands.slots import FillSlot, LeaveOut, MarkSlot, UnmarkSlot
from glowreel.core.commands.sound import AddSound, AttachSound, DetachSound
from glowreel.core.commands.speed import Freeze, SetCurve, SetSpeed
from glowreel.core.commands.split import Join, SplitAt
from glowreel.core.commands.stagger import Stagger
from glowreel.core.commands.stickers import AddSticker
from glowreel.core.commands.styles import KeepStyle, StyleWords
from glowreel.core.commands.takes import LayRecording, LayTake
from glowreel.core.commands.template import SetFacts
from glowreel.core.commands.tracks import MoveTrack, RemoveTrack, SetBus, SetTrack, StepTrack
from glowreel.core.commands.transcript import (
    BringBack,
    CorrectWords,
    CutPauses,
    LayVoice,
    MarkWords,
    MoveWords,
    RemoveWords,
    RoughCut,
    WriteDown,
)
from glowreel.core.commands.transitions import PushOver, RemoveTransition, SetAllTransitions, SetEdge, SetTransition
from glowreel.core.commands.trim import Trim
from glowreel.core.commands.views import AimView
from glowreel.core.document import Promo
from glowreel.core.errors import Refusal
from glowreel.core.limits import check_limits
from glowreel.core.normalise import normalise

AnyCommand = (
    InsertClips | InsertFiller | MoveClips | Trim | SplitAt | Join | Remove
    | Overwrite | Replace | RollCut | Slip | RemoveRange | CloseGap | SetSpeed | SetCurve | Freeze
    | Set | Reset | CopyLook | PlaceItem | PinItems | AddPoint | SetPoint | MovePoint | RemovePoint
    | AlignItems | SpreadItems | SizeItems | OrderItems | ToLayer | ToMain | PanZoom | FrameClip | PunchIn
    | Stagger | SetGround | PutBehind | AddEffect | MoveEffect | RemoveEffect | AddDesign | SwitchDesign | FillPicture
    | MarkSlot | UnmarkSlot | FillSlot | SetFacts
    | DismissCheck
    | AddCollage | FillCell | SwapCells | ArrangeCells | MoveDivider | FitCollage | FreeCollage
    | TakeApart | PlaceCalm | SwitchBrand | WearPalette | LeaveOut
    | AimView | CopyFormat | SetFormat | MoveFormat | CopyChanges | ToRule | SetChannels
    | AddShape | AddSticker | StyleWords | KeepStyle
    | AddAdjustment | Balance | AddWords | AddPicture | MoveItem | TieItem | AddSound | DetachSound | AttachSound
    | SetTransition | SetAllTransitions | RemoveTransition | SetEdge | PushOver
    | MoveItems | TrimBy | TrimTo | Group | Paste | Duplicate | SetTrack | MoveTrack | RemoveTrack | StepTrack | SetBus
    | RenameScene | BreakScene | JoinScene | MoveScene | InsertScene | RemoveScene | SetSceneLength
    | SetWhole | RunSound | LayRoomTone | LayTake | LayRecording | LayPages | ReplaceEverywhere
    | FillMissing | CutToBeat | MarkMoments | StepHalf
    | WriteDown | CorrectWords | MarkWords | RemoveWords | CutPauses | BringBack | MoveWords | RoughCut | LayVoice
    | AddCaptions | SetCaptions | RemoveCaptions | TakeCues | TypeWords | TimeWords | ReplaceInWords
    | SayCue | PlaceCaptions
    | AddCue | SetCue | RemoveCue
    | AddNote | SetNote | Rename | SetRate | AddFormat | RemoveFormat
)  # fmt: skip
ALL: tuple[type[Command], ...] = get_args(AnyCommand)

__all__ = [
    "ALL",
    "AddAdjustment",
    "AddCaptions",
    "AddCollage",
    "AddCue",
    "AddDesign",
    "AddEffect",
    "AddFormat",
    "AddNote",
    "AddPicture",
    "AddPoint",
    "AddShape",
    "AddSound",
    "AddSticker",
    "AddWords",
    "AimView",
    "AlignItems",
    "ArrangeCells",
    "AttachSound",
    "Balance",
    "BreakScene",
    "BringBack",
    "CloseGap",
    "Command",
    "Context",
    "CopyChanges",
    "CopyFormat",
    "CopyLook",
    "CorrectWords",
    "CutPauses",
    "CutToBeat",
    "DetachSound",
    "DismissCheck",
    "Duplicate",
    "FillCell",
    "FillMissing",
    "FillPicture",
    "FillSlot",
    "FitCollage",
    "FrameClip",
    "FreeCollage",
    "Freeze",
    "Group",
    "InsertClips",
    "InsertFiller",
    "InsertScene",
    "Join",
    "JoinScene",
    "KeepStyle",
    "LayPages",
    "LayRecording",
    "LayRoomTone",
    "LayTake",
    "LayVoice",
    "LeaveOut",
    "MarkMoments",
    "MarkSlot",
    "MarkWords",
    "MoveClips",
    "MoveDivider",
    "MoveEffect",
    "MoveFormat",
    "MoveItem",
    "MoveItems",
    "MovePoint",
    "MoveScene",
    "MoveTrack",
    "MoveWords",
    "OrderItems",
    "Outcome",
    "Overwrite",
    "PanZoom",
    "Paste",
    "PinItems",
    "PlaceCalm",
    "PlaceCaptions",
    "PlaceItem",
    "PunchIn",
    "PushOver",
    "PutBehind",
    "Remove",
    "RemoveCaptions",
    "RemoveCue",
    "RemoveEffect",
    "RemoveFormat",
    "RemovePoint",
    "RemoveRange",
    "RemoveScene",
    "RemoveTrack",
    "RemoveTransition",
    "RemoveWords",
    "Rename",
    "RenameScene",
    "Replace",
    "ReplaceEverywhere",
    "ReplaceInWords",
    "Reset",
    "RollCut",
    "RoughCut",
    "RunSound",
    "SayCue",
    "Set",
    "SetAllTransitions",
    "SetBus",
    "SetCaptions",
    "SetChannels",
    "SetCue",
    "SetCurve",
    "SetEdge",
    "SetFacts",
    "SetFormat",
    "SetGround",
    "SetNote",
    "SetPoint",
    "SetRate",
    "SetSceneLength",
    "SetSpeed",
    "SetTrack",
    "SetTransition",
    "SetWhole",
    "SizeItems",
    "Slip",
    "SplitAt",
    "SpreadItems",
    "Stagger",
    "StepHalf",
    "StepTrack",
    "StyleWords",
    "SwapCells",
    "SwitchBrand",
    "SwitchDesign",
    "TakeApart",
    "TakeCues",
    "TieItem",
    "TimeWords",
    "ToLayer",
    "ToMain",
    "ToRule",
    "Trim",
    "TrimBy",
    "TrimTo",
    "TypeWords",
    "UnmarkSlot",
    "WearPalette",
    "WriteDown",
    "apply",
    "apply_all",
    "do",
    "loc",
    "msg",
    "read_command",
    "type",
    "value_error",
]

_adapter: TypeAdapter[Any] = TypeAdapter(Annotated[AnyCommand, Field(discriminator="do")])


def read_command(data: object) -> Command:
    """A command from decoded JSON, or a refusal naming the first thing wrong with it."""
    try:
        return _adapter.validate_python(data)  # type: ignore[no-any-return]
    except ValidationError as error:
        first = error.errors(include_url=False, include_context=False)[0]
        where = ".".join(str(part) for part in first["loc"][1:]) or "the command"
        reason = first["msg"].removeprefix("Value error, ")
        # A sentence of our own says what it is about.
        said = reason if first["type"] == "value_error" else f"{where}: {reason}"
        raise Refusal("bad-command", f"That cannot be done: {said}.", "Enter another value.") from error


def apply_all(promo: Promo, commands: Sequence[Command], context: Context) -> Promo:
    """Carries out commands one after another, and puts the outcome under the rules once, at the end. For commands that
    leave each other's things alone, such as filling slots. The input is untouched; raises `Refusal` as `apply` does."""
    made, touched = promo, frozenset[str]()
    try:
        for command in commands:
            refuse_locked(made, command)
            edit = command.carry_out(made, context)
            made, touched = edit.promo, touched | edit.touched
        return check_limits(normalise(made, promo, touched, context.new_id))
    except ValidationError as error:
        reason = error.errors(include_url=False, include_context=False)[0]["msg"].removeprefix("Value error, ")
        raise Refusal("not-allowed", f"That would not leave a valid promo: {reason}.") from error


def apply(promo: Promo, command: Command, context: Context) -> Outcome:
    """Carries out one command. The input is untouched; the answer holds every rule of the document.

    Raises `Refusal` with a sentence when the command cannot be carried out on this document.
    """
    try:
        refuse_locked(promo, command)
        edit = command.carry_out(promo, context)
        return edit.with_promo(check_limits(normalise(edit.promo, promo, edit.touched, context.new_id)))
    except ValidationError as error:
        reason = error.errors(include_url=False, include_context=False)[0]["msg"].removeprefix("Value error, ")
        raise Refusal("not-allowed", f"That would not leave a valid promo: {reason}.") from error
