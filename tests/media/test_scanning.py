"""Looking at recordings: chunks that join without a seam, cuts and faces against what was drawn."""

import subprocess
from fractions import Fraction
from itertools import pairwise
from pathlib import Path
from statistics import median

import numpy as np
import pytest

from nimble_quote.core.framing.placement import FaceSample
from nimble_quote.core.framing.shots import find_changes
from nimble_quote.core.framing.subjects import SeenFace, Track, find_tracks
from nimble_quote.core.timebase import Span
from nimble_quote.demo.load import MEDIA, joined
from nimble_quote.media.coding import Coding
from nimble_quote.media.faces import INPUT, FaceFinder, Sheet, blended
from nimble_quote.media.ffmpeg import MediaFailed
from nimble_quote.media.keys import PROXY, SEEN
from nimble_quote.media.probe import SourceFacts, probe_source
from nimble_quote.media.scanning import First, PictureScan, Plan, proxy_size
from nimble_quote.media.seen import Seen, read_seen, seen_by, watched, write_seen
from nimble_quote.settings import Settings
from tests.conftest import CODED, make_media
from tests.truth import RATE, face_at, place_of, truth_of

pytestmark = pytest.mark.anyio

COUNTED = "nullsrc=s=160x90:r={rate}:d=7,geq=lum='16+219*mod(floor(N/pow(2\\,floor(X/20)))\\,2)':cb=128:cr=128"


async def no_progress(part: float) -> None:
    assert 0 <= part <= 1


async def scan_of(media: Path, folder: Path, proxied: bool = False, chunk_s: int = 60) -> PictureScan:
    facts = await probe_source(media, media.name)
    folder.mkdir(exist_ok=True)
    return PictureScan(
        source=media,
        facts=facts,
        model=Settings().face_model,
        folder=folder / "looking",
        proxied=proxied,
        coding=Coding(),
        chunk_s=chunk_s,
    )


def counted(path: Path) -> list[int]:
    """The number that each frame of a counted picture shows."""
    raw = subprocess.run(
        ["ffmpeg", "-v", "error", "-i", str(path), "-vf", "scale=8:8:flags=area,format=gray", "-f", "rawvideo", "-"],
        capture_output=True, check=True,
    ).stdout  # fmt: skip
    frames = np.frombuffer(raw, np.uint8).reshape(-1, 8, 8).mean(axis=1) > 110
    return [int(sum(1 << i for i, lit in enumerate(frame) if lit)) for frame in frames]


@pytest.mark.parametrize("rate", ["25", "30000/1001", "50"])
async def test_chunks_join_to_a_proxy_without_a_frame_lost_or_shown_twice(tmp_path: Path, rate: str):
    options = ("-c:v", "libx264", "-preset", "ultrafast", "-g", "70", "-c:a", "aac")
    media = make_media(tmp_path / "c.mp4", COUNTED.format(rate=rate), "sine=d=7", options=options)
    scan = await scan_of(media, tmp_path / "work", chunk_s=2)
    await scan.scan(tmp_path, no_progress)
    assert scan.plan.chunks == 4
    proxy = tmp_path / "proxy.mp4"
    await scan.join_proxy(None, proxy, tmp_path)
    frames = round(7 * Fraction(rate))
    assert counted(proxy) == [n % 256 for n in range(frames)]
    assert sum(len(run) for run in scan.looks()) == frames
    told = subprocess.run(
        ["ffprobe", "-v", "error", "-select_streams", "v", "-show_entries", "packet=pts_time,flags", "-of", "csv=p=0", str(proxy)],
        capture_output=True, text=True, check=True,
    ).stdout.split()  # fmt: skip
    keys = [float(line.split(",")[0]) for line in told if "K" in line]
    assert max(b - a for a, b in pairwise(keys)) <= 1.01
    assert float(told[-1].split(",")[0]) == pytest.approx((frames - 1) / float(Fraction(rate)), abs=0.002)


async def test_a_killed_scan_goes_on_with_the_chunks_that_lack(tmp_path: Path):
    media = make_media(tmp_path / "c.mp4", "testsrc2=s=320x180:r=25:d=7", "sine=d=7", options=CODED)
    scan = await scan_of(media, tmp_path / "work", chunk_s=2)

    async def until_half(part: float) -> None:
        if part > 0.6:
            raise KeyError("killed")

    with pytest.raises(KeyError, match="killed"):
        await scan.scan(tmp_path, until_half)
    done = {path.name: path.stat().st_mtime_ns for path in scan.folder.iterdir()}
    assert {"00000.json", "00001.json"} <= set(done)
    assert "00003.json" not in done
    await scan.scan(tmp_path, no_progress)
    after = {path.name: path.stat().st_mtime_ns for path in scan.folder.iterdir()}
    assert {name: after[name] for name in done} == done
    assert len([name for name in after if name.endswith(".json")]) == 4


async def test_the_stretch_that_somebody_waits_for_is_scanned_first_and_told_at_once(tmp_path: Path):
    media = make_media(tmp_path / "c.mp4", "testsrc2=s=320x180:r=25:d=9", "sine=d=9", options=CODED)
    scan = await scan_of(media, tmp_path / "work", chunk_s=2)
    told: list[tuple[range, list[str]]] = []

    async def wanted() -> Span | None:
        # It is asked for once the first chunk is there.
        return Span(start_ms=4500, end_ms=7000) if list(scan.folder.glob("*.json")) else None

    async def made(chunks: range) -> None:
        told.append((chunks, sorted(path.stem for path in scan.folder.glob("*.json"))))
        seen = seen_by(scan, 9000, chunks)
        assert [at for at, _ in seen.looks] == [0], "one shot, as far as is known"
        assert sum(len(run) for run in scan.looks(chunks)) == 100

    await scan.scan(tmp_path, no_progress, First(wanted=wanted, made=made))
    assert told == [(range(2, 4), ["00000", "00002", "00003"])]
    assert sorted(path.stem for path in scan.folder.glob("*.json")) == [f"{n:05}" for n in range(5)]


async def test_what_is_seen_in_a_stretch_is_at_its_own_time(tmp_path: Path):
    cut = "testsrc2=s=320x180:r=25:d=3[a];color=blue:s=320x180:r=25:d=3[b];color=red:s=320x180:r=25:d=3[c];[a][b][c]concat=n=3"
    media = make_media(tmp_path / "c.mp4", cut, "sine=d=9", options=CODED)
    scan = await scan_of(media, tmp_path / "work", chunk_s=2)
    await scan.scan(tmp_path, no_progress)
    whole, part = seen_by(scan, 9000), seen_by(scan, 9000, range(2, 5))
    assert [at for at, _ in whole.changes] == [3000, 6000]
    assert [at for at, _ in part.changes] == [6000]
    assert [at for at, _ in part.looks] == [0, 6000]


async def test_what_cannot_be_decoded_is_told(tmp_path: Path):
    media = make_media(tmp_path / "c.mp4", "testsrc2=s=320x180:r=25:d=3", "sine=d=3", options=CODED)
    scan = await scan_of(media, tmp_path / "work")
    media.write_bytes(b"gone bad")
    with pytest.raises(MediaFailed):
        await scan.scan(tmp_path, no_progress)


async def test_cuts_are_found_to_the_frame_and_faces_where_they_were_drawn(tmp_path: Path):
    truth = truth_of("two-kettles")
    scan = await scan_of(joined("two-kettles", "original.mp4", tmp_path / "k.mp4"), tmp_path / "work")
    # A minute: three cameras, a flash, and both people in each.
    short = SourceFacts(**{**vars(scan.facts), "duration_ms": 64_000})
    scan = PictureScan(**{**vars(scan), "facts": short})
    await scan.scan(tmp_path, no_progress)
    changes = list(find_changes(scan.looks()))
    drawn = [round(at * RATE) for at in truth["cuts_s"] if at < 64]
    assert [c.frame for c in changes if c.kind == "cut"] == drawn
    assert [c.frame for c in changes if c.kind != "cut"] == [round(at * RATE) for at in truth["flashes_s"]]
    tracks = find_tracks(scan.faces(), [frame * 1000 // RATE for frame in drawn])
    named: dict[str, set[int]] = {"Ivo Brandt": set(), "Sanna Quill": set()}
    errors, missed = [], 0
    for who, names in named.items():
        for at_ms in range(0, 63_900, 200):
            if not (box := face_at(truth, who, at_ms)):
                continue
            middle = ((box[0] + box[2] / 2) / 1280, (box[1] + box[3] / 2) / 720)
            near = [
                (abs(place[1] - middle[1]) * 720 / box[3], track.subject)
                for track in tracks
                if (place := place_of(track, at_ms)) and abs(place[0] - middle[0]) * 1280 < box[3] / 2
            ]
            missed += not near
            errors += [min(near)[0]] if near else []
            names |= {min(near)[1]} if near else set()
    assert missed <= 0.02 * len(errors)
    assert median(errors) < 0.05
    assert sorted(map(sorted, named.values())) == [[0], [1]], "each keeps one name through every shot"


async def test_what_ships_as_seen_is_what_looking_finds(tmp_path: Path):
    shipped = read_seen(joined("keep-the-wick-short", SEEN, tmp_path / SEEN))
    proxy = joined("keep-the-wick-short", PROXY, tmp_path / PROXY)
    scan = await scan_of(proxy, tmp_path / "work", proxied=True)
    short = PictureScan(**{**vars(scan), "facts": SourceFacts(**{**vars(scan.facts), "duration_ms": 16_000})})
    await short.scan(tmp_path, no_progress)
    fresh = seen_by(short, 16_000)
    assert shipped is not None
    assert fresh.changes == [one for one in shipped.changes if one[0] < 15_900]
    of_shipped, of_fresh = ({f.sample.at_ms: f for f in seen.tracks[0].faces} for seen in (shipped, fresh))
    assert len(of_fresh) > 40
    for at_ms, face in of_fresh.items():
        assert of_shipped[at_ms].sample.middle == pytest.approx(face.sample.middle, abs=0.01)


def test_what_was_seen_is_kept_as_it_was_but_for_colours(tmp_path: Path):
    sample = FaceSample(at_ms=200, x=0.1, y=0.25, width=0.2, height=0.3, score=0.9)
    track = Track(faces=(SeenFace(sample=sample, turn=-0.5, talking=0.25, colours=np.ones(12, np.float32)),), subject=3)
    seen = Seen(changes=[(400, "cut")], tracks=[track], looks=[(0, bytes(432)), (400, bytes(range(216)) * 2)])
    write_seen(seen, tmp_path / SEEN)
    assert read_seen(tmp_path / SEEN) == seen
    (tmp_path / SEEN).write_text((tmp_path / SEEN).read_text().replace('"version":3', '"version":2'))
    assert read_seen(tmp_path / SEEN) is None, "another version of looking has seen something else"


@pytest.mark.parametrize(
    ("size", "proxy"), [((1920, 1080), (960, 540)), ((1080, 1920), (540, 960)), ((640, 360), (640, 360))]
)
def test_the_short_side_of_a_proxy_is_540_or_less(size: tuple[int, int], proxy: tuple[int, int]):
    facts = SourceFacts(
        duration_ms=1000,
        width=size[0],
        height=size[1],
        rate=Fraction(25),
        video_codec="h264",
        sound_tracks=(),
        size_bytes=1,
    )
    assert proxy_size(facts) == proxy


@pytest.mark.parametrize(
    "rate", [Fraction(24), Fraction(25), Fraction(30000, 1001), Fraction(60), Fraction(15), Fraction(240)]
)
def test_every_chunk_begins_on_a_key_frame_and_a_look(rate: Fraction):
    facts = SourceFacts(
        duration_ms=10_000_000, width=640, height=360, rate=rate, video_codec="h264", sound_tracks=(), size_bytes=1
    )
    plan = Plan.of(facts)
    assert plan.chunk_frames % plan.step == plan.chunk_frames % round(plan.rate) == 0
    assert sum(plan.reach(chunk).frames for chunk in range(plan.chunks)) == plan.frames
    assert 60 <= plan.chunk_frames / plan.rate < 66


def test_shipped_media_that_are_damaged_are_noticed(tmp_path: Path, monkeypatch: pytest.MonkeyPatch):
    from nimble_quote.demo import load

    copy = tmp_path / "media" / "keep-the-wick-short"
    copy.mkdir(parents=True)
    (copy / "sums.json").write_text((MEDIA / "keep-the-wick-short" / "sums.json").read_text())
    (copy / "proxy.mp4.00").write_bytes(b"damaged")
    monkeypatch.setattr(load, "MEDIA", tmp_path / "media")
    with pytest.raises(load.DemoDamaged, match="damaged"):
        load.joined("keep-the-wick-short", "proxy.mp4", tmp_path / "out.mp4")


def test_boxes_for_one_face_are_blended_and_others_kept_apart():
    boxes = np.zeros((3, 16), np.float32)
    boxes[:, :4] = [[0, 0, 1, 1], [0.1, 0, 1.1, 1], [3, 3, 4, 4]]
    found = blended(list(zip(boxes, (0.9, 0.9, 0.7), strict=True)))
    assert [box[:4].tolist() for box, _ in found] == [pytest.approx([0.05, 0, 1.05, 1]), [3, 3, 4, 4]]


def test_a_face_is_found_in_a_corner_only_by_the_tiles(tmp_path: Path):
    sheet = Sheet.of(1280, 720)
    frame = joined("rain-barrels", "original.mp4", tmp_path / "b.mp4")
    raw = subprocess.run(
        ["ffmpeg", "-v", "error", "-ss", "5", "-i", str(frame), "-frames:v", "1", "-filter_complex",
         f"[0:v]{sheet.filter},format=rgb24", "-f", "rawvideo", "-"],
        capture_output=True, check=True,
    ).stdout  # fmt: skip
    pixels = np.frombuffer(raw, np.uint8).reshape(sheet.size[1], sheet.size[0], 3)
    finder = FaceFinder(Settings().face_model, sheet)
    (seen,) = finder.find(pixels, 5000)
    box = face_at(truth_of("rain-barrels"), "Petra Lowe", 5000)
    assert box
    assert seen.sample.middle[0] * 1280 == pytest.approx(box[0] + box[2] / 2, abs=15)
    assert seen.sample.middle[1] * 720 == pytest.approx(box[1] + box[3] / 2, abs=15)

    assert sheet.size[1] == INPUT


FILMED = (
    "testsrc=s=640x360:r=25:d=3[a];mandelbrot=s=640x360:r=25,trim=end_frame=75[b];"
    "gradients=s=640x360:r=25:d=3:seed=5[c];smptebars=s=640x360:r=25:d=3[d];[a][b][c][d]concat=n=4[all];[all]{over}null"
)
BUG = "drawbox=x=20:y=20:w=60:h=40:c=black:t=fill,drawbox=x=32:y=28:w=12:h=24:c=white:t=fill,drawbox=x=56:y=28:w=12:h=24:c=white:t=fill,"


@pytest.mark.parametrize(("over", "graphics"), [(BUG, 1), ("", 0)])
async def test_a_logo_over_shots_that_are_not_alike_is_seen_and_kept(tmp_path: Path, over: str, graphics: int):
    media = make_media(tmp_path / "c.mp4", FILMED.format(over=over), options=CODED)
    scan = await scan_of(media, tmp_path / "work", proxied=True)
    await scan.scan(tmp_path, no_progress)
    seen = seen_by(scan, 12_000)
    seen = await watched(seen, 12_000, None, media, scan.facts, Settings().face_mesh, no_progress)
    write_seen(seen, tmp_path / SEEN)
    again = read_seen(tmp_path / SEEN)
    assert again is not None
    assert len(again.graphics) == len(seen.graphics) == graphics
    for left, top, width, height in again.graphics:
        assert (left * 640, top * 360) == pytest.approx((32, 28), abs=4)
        assert ((left + width) * 640, (top + height) * 360) == pytest.approx((68, 52), abs=4)
