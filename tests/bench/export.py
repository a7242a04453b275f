"""Export time against bare ffmpeg making the same picture: same cuts, crop, scale and encoder, no captions, no sound."""

import asyncio
import resource
import subprocess
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from statistics import median
from typing import Any

import httpx

from nimble_quote.core.assembly import RECORDING, Assembly, RecordingFacts, assemble
from nimble_quote.core.document import Choice, Framing, ShotChoice
from nimble_quote.core.edits import (
    AddVersion,
    ChangeCaptionLook,
    Edit,
    FrameShot,
    FramingChange,
    PlaceWindow,
    apply_edit,
    new_quote,
)
from nimble_quote.core.making import USUAL
from nimble_quote.core.talk import Talk
from nimble_quote.core.timebase import Span
from nimble_quote.core.transcript.cues import timed_words
from nimble_quote.demo.load import MEDIA, joined
from nimble_quote.formats.transcripts import read_transcript
from nimble_quote.media.coding import Coding
from nimble_quote.media.probe import probe_source
from nimble_quote.media.reach import Reach
from nimble_quote.media.render.coders import by_quality
from nimble_quote.media.render.command import render
from nimble_quote.media.render.compiling import Input, compile_graph, inputs_of
from nimble_quote.media.source import Source
from tests.bench.table import Row
from tests.conftest import RunningApp, find_words, put_demo
from tests.framings import moving, tiled
from tests.helpers import edit, keep
from tests.shipped import DESTINATIONS, LETTERING
from tests.talks import context_of

ROUNDS = 3
OF_TWENTY_SECONDS = ("So people ask me, what is the secret?", "burns twice the oil and gives half the light.")
PASSAGE = "So people ask me, what is the secret? You know, there is no secret. Keep the wick short."


def measure(running: RunningApp, scratch: Path) -> Iterator[Row]:
    """Exports a filled and a fitted tall version, in turn with the baseline of each; and four versions at once."""
    media = joined("keep-the-wick-short", "original.mp4", scratch / "original.mp4")
    source = Source(path=media)
    fit = FrameShot(change=FramingChange(layout="whole"))
    yield _row("fill the frame", assembly_of(media), source, scratch)
    yield _row("fit, blurred copy behind", assembly_of(media, fit), source, scratch)
    yield _row("pan and zoom, layouts changing at 20 cuts", assembly_of(media, framing=_twenty), source, scratch)
    yield _first_of_four(running)


RICHEST = ChangeCaptionLook(
    look={
        "outline": {"colour": "#10231F", "width": 0.08}, "shadow": {"blur": 0.1, "down": 0.06, "opacity": 0.7},
        "plate": {"behind": "block", "opacity": 0.6, "radius": 0.3}, "spoken": {"mark": "plate", "colour": "#0B5454"},
        "entrance": "rise", "exit": "fade", "emphasis": "#F2C14E", "letter_spacing": 0.02,
    }
)  # fmt: skip


def measured_look(scratch: Path) -> Row:
    """What burning the richest captions in costs, against the same clip without any."""
    media = joined("keep-the-wick-short", "original.mp4", scratch / "original.mp4")
    source, rich = Source(path=media), assembly_of(media, RICHEST)
    bare = rich.model_copy(update={"cue_tracks": ()})
    used = {"rich": 0.0, "bare": 0.0}
    for number in range(ROUNDS):
        for name, assembly in (("rich", rich), ("bare", bare)):
            folder = scratch / f"look-{name}-{number}"
            folder.mkdir()
            used[name] += timed(lambda folder=folder, one=assembly: ours_of(one, source, folder))[1]
    times = used["rich"] / used["bare"]
    return Row(
        what=f"export of {rich.length_ms / 1000:.1f} s as Tall 60 with the richest captions",
        measured=f"{times:.2f} x the processor's work", baseline="the same without captions", aim="1.05 x", met=times <= 1.05,
    )  # fmt: skip


def _first_of_four(running: RunningApp) -> Row:
    """How long the first of four versions takes until it is ready, against one that is asked for alone."""
    demo = put_demo(running, "keep-the-wick-short")
    alone, first, last = [], [], []
    with running.client as client:
        for _ in range(ROUNDS):
            quote = keep(client, demo, *OF_TWENTY_SECONDS)
            alone.append(_ready_after(client, quote, ["tall-30"])[0])
            for destination in ("tall-60", "square-60", "wide-140"):
                quote = edit(client, quote, kind="add-version", destination=destination).json()
            quote = edit(client, quote, kind="rename", title="Once more").json()
            ready = _ready_after(client, quote, ["tall-30", "tall-60", "square-60", "wide-140"])
            first.append(ready[0])
            last.append(ready[-1])
        length = client.get(f"/api/quotes/{quote['id']}").json()["gauges"][0]["length_ms"] / 1000
    times = median(first) / median(alone)
    return Row(
        what=f"the first of four versions of {length:.0f} s is ready",
        measured=f"{median(first):.1f} s = {times:.2f} x; the last {median(last):.1f} s",
        baseline=f"{median(alone):.1f} s one alone",
        aim="1.10 x or less",
        met=times <= 1.1,
    )


def _ready_after(client: httpx.Client, quote: dict[str, Any], destinations: list[str]) -> list[float]:
    """The seconds after which each of some versions is ready, when all are asked for together."""
    start = time.perf_counter()
    made = client.post(f"/api/quotes/{quote['id']}/exports", json={"destinations": destinations}).json()
    waiting, ready = {one["id"] for one in made}, []
    assert len(waiting) == len(destinations)
    while waiting:
        time.sleep(0.05)
        for one in client.get("/api/exports").json():
            if one["id"] in waiting and one["state"] not in ("queued", "running"):
                assert one["state"] == "done", one
                waiting.discard(one["id"])
                ready.append(time.perf_counter() - start)
    return ready


def _twenty(span: Span) -> Framing:
    """Twenty stretches, framed by turns by a window that pans, one that zooms, tiles, and the whole picture."""
    length = span.length_ms // 20
    shots = []
    for number in range(20):
        start = span.start_ms + number * length
        end = start + length
        pan = moving((start, start + 100, 0.4, 1.0), (end - 100, end, 0.6, 1.0))
        zoom = moving((start, start + 100, 0.5, 1.0), (end - 100, end, 0.55, 1.4))
        choices = (
            Choice(layout="one", placed=(pan,)),
            Choice(layout="one", placed=(zoom,)),
            tiled("stacked", 0.4, 0.6),
            Choice(layout="whole"),
        )
        shots.append(ShotChoice(span=Span(start_ms=start, end_ms=end), choice=choices[number % 4]))
    return Framing(shots=tuple(shots))


def assembly_of(media: Path, *edits: Edit, framing: Callable[[Span], Framing] | None = None) -> Assembly:
    facts = asyncio.run(probe_source(media, "talk"))
    transcript = MEDIA / "keep-the-wick-short" / "transcript.vtt"
    heard = timed_words(read_transcript(transcript.name, transcript.read_bytes()).cues)
    talk = Talk(words=[one.word for one in heard], duration_ms=facts.duration_ms)
    first, last = find_words([word.text for word in talk.words], PASSAGE)
    document = apply_edit(
        new_quote(context_of(talk), first, last + 40), AddVersion(destination="tall-60"), context_of(talk)
    )
    document = apply_edit(
        document, PlaceWindow(destination="tall-60", at_ms=document.span.start_ms, x=0.6), context_of(talk)
    )
    for one in edits:
        document = apply_edit(document, one, context_of(talk))
    if framing is not None:
        document = document.model_copy(update={"framing": framing(document.span), "treatments": {}})
    recording = RecordingFacts(duration_ms=facts.duration_ms, width=1920, height=1080, rate=facts.rate)
    return assemble(document, context_of(talk), recording, DESTINATIONS["tall-60"])


def _row(name: str, assembly: Assembly, source: Source, scratch: Path) -> Row:
    ours: list[float] = []
    bare: list[float] = []
    our_work, bare_work = 0.0, 0.0
    for number in range(ROUNDS):
        folder = scratch / f"{name}-{number}".replace(" ", "-").replace(",", "")
        folder.mkdir()
        seconds, work = timed(lambda folder=folder: bare_of(assembly, source, folder))
        bare.append(seconds)
        bare_work += work
        seconds, work = timed(lambda folder=folder: ours_of(assembly, source, folder))
        ours.append(seconds)
        our_work += work
    times, work = median(ours) / median(bare), our_work / bare_work
    return Row(
        what=f"export of {assembly.length_ms / 1000:.1f} s as Tall 60, {name}",
        measured=f"{median(ours):.1f} s = {times:.2f} x ({work:.2f} x the processor's work)",
        baseline=f"{median(bare):.1f} s bare ffmpeg",
        aim="1.10 x processor time or less",
        met=work <= 1.1,
    )


def bare_of(assembly: Assembly, source: Source, folder: Path) -> None:
    bare = assembly.model_copy(update={"cue_tracks": (), "overlays": ()})
    (one,) = inputs_of(bare)
    reach = Reach.of(one.runs, bare.rate)
    (folder / "bare.txt").write_text(compile_graph(bare, [Input(one, reach, Coding())]))
    subprocess.run(
        ["ffmpeg", "-v", "error", "-y", *reach.seek, "-i", str(source.path), "-filter_complex_script",
         str(folder / "bare.txt"), "-map", "[out]", *by_quality(USUAL), "-g", "50", "-an", str(folder / "bare.mp4")],
        check=True,
    )  # fmt: skip


def ours_of(assembly: Assembly, source: Source, folder: Path) -> None:
    """Makes a clip as an export does."""
    asyncio.run(_rendered(assembly, source, folder))


async def _rendered(assembly: Assembly, source: Source, folder: Path) -> None:
    async def no_progress(part: float) -> None:
        return

    await render(assembly, {RECORDING: source}, LETTERING, folder, no_progress)


def timed(work: Callable[[], None]) -> tuple[float, float]:
    """Seconds by the clock, and seconds of processor time, ours and our children's: a busy machine moves only the first."""
    start, before = time.perf_counter(), _processor_s()
    work()
    return time.perf_counter() - start, _processor_s() - before


def _processor_s() -> float:
    used = [resource.getrusage(who) for who in (resource.RUSAGE_SELF, resource.RUSAGE_CHILDREN)]
    return sum(one.ru_utime + one.ru_stime for one in used)
