from hypothesis import given
from hypothesis import strategies as st

from glowreel.core.formats import SHIPPED
from glowreel.core.history import Chain
from glowreel.core.time import TICKS_PER_SECOND, Rate, clock, sample_floor, ticks

rates = st.sampled_from(
    [Rate(num=n, den=d) for n, d in ((24, 1), (25, 1), (30, 1), (60, 1), (30000, 1001), (24000, 1001))]
)


@given(rates, st.integers(0, 10**6))
def test_frames_and_ticks_are_inverse(rate: Rate, frame: int) -> None:
    start = rate.frame_start(frame)
    assert start * rate.num == frame * TICKS_PER_SECOND * rate.den, "frames begin on whole ticks"
    assert rate.frame_floor(start) == rate.frame_nearest(start) == rate.frame_ceil(start) == frame
    assert rate.frame_floor(start + rate.frame - 1) == frame
    assert rate.frame_ceil(start + 1) == frame + 1


def test_samples_are_whole_ticks_and_times_read_well() -> None:
    assert TICKS_PER_SECOND % 48000 == TICKS_PER_SECOND % 44100 == 0
    assert sample_floor(ticks(1.5)) == 72000
    assert clock(ticks(72.5)) == "1:12.50"
    assert clock(ticks(3.5), Rate(num=30, den=1)) == "0:03:15"


def test_sizes_are_even_and_keep_the_shape() -> None:
    assert SHIPPED["tall"].size(1080) == (1080, 1920)
    assert SHIPPED["cinema"].size(1080) == (2520, 1080)
    for format in SHIPPED.values():
        for short in (77, 480, 720, 1080, 2160):
            width, height = format.size(short)
            assert width % 2 == height % 2 == 0
            assert abs(width / height - format.wide / format.high) < 0.03


def test_redo_follows_the_newest_branch() -> None:
    chain = Chain.begun("a").edited("b").edited("c")
    back = chain.undone().undone()
    assert back.head == "a"
    assert back.undone() is None
    assert back.redone().redone().head == "c"
    branched = back.edited("d")
    assert branched.redone() is None
    assert Chain({"c": "b"}, "c", "c").redone() is None, "only the needed part of the history is loaded"
    assert branched.undone().redone().head == "d"
    assert branched.parents["c"] == "b", "the old branch is still there"
