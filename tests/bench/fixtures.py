"""Subtitle files that other libraries ship to test themselves, read by them and by us. Fetched from the package registry as
it runs, and read in a process that has those libraries alone."""

import ast
import json
import re
import subprocess
import sys
import tarfile
from collections import Counter
from pathlib import Path

from nimble_quote.formats.transcripts import READERS, TranscriptUnreadable, read_transcript
from tests.bench.table import Row

LIBRARIES = {"pycaption": "2.3.14", "pysrt": "1.1.2", "pysubs2": "1.8.1", "srt": "3.5.3", "webvtt-py": "0.6.0"}
_ALSO = (
    "chardet",
    "beautifulsoup4",
    "soupsieve",
    "lxml",
    "cssutils",
    "more-itertools",
    "encutils",
    "typing_extensions",
)
"""What some of them read with."""
REASONS = {
    "a name before a colon is the speaker, and notes are music": re.compile(r"\b(MAN|NARRATOR):|[♪♫]"),
    "what is not XML is refused, with the place": re.compile(
        r"but_supported|multiple_regions_input|escaped_apostrophe"
    ),
    "refused by its library; its words and times can be read": re.compile(
        r"missing_end|invalid_positioning_v|no_blank_after"
    ),
    "words after a blank line stay with the cue before": re.compile(r"orphan_text"),
    "white space in XML is one space": re.compile(r"inline_style\.dfxp"),
    "a dash begins another speaker's turn, and is no word": re.compile(r"^- |\s- "),
    "character references stand for their characters (WebVTT 6.4)": re.compile(r"&(lt|gt|amp|nbsp);"),
    "roll-up captions are said once": re.compile(r"youtube"),
    "a block without a time of its own keeps its words with the cue before": re.compile(r"_timeframe\."),
    "an encoding that is not UTF-8 is guessed, and said": re.compile(r"1252"),
    "tags that are none of the format's are left out": re.compile(r"capability_tester"),
    "a time without a unit or an hour is no TTML time (TTML 2, 12.3.1): told, not guessed": re.compile(r"apple\.ttml"),
}
"""Why a file is read otherwise: by its name, or by what its library makes of it."""
_OWN = """
import json, sys
from pathlib import Path
library, path = sys.argv[1:]
def at(clock): return sum(float(n) * unit for n, unit in zip(reversed(clock.split(":")), (1000, 60000, 3600000)))
def cues():
    if library == "pysrt":
        import pysrt
        return [[c.start.ordinal, c.text_without_tags] for c in pysrt.open(path)]
    if library == "srt":
        import srt
        text = Path(path).read_bytes().decode("gb2312" if "gb2312" in path else "utf-8-sig")
        return [[c.start.total_seconds() * 1000, c.content] for c in srt.parse(text)]
    if library == "pysubs2":
        import pysubs2
        return [[e.start, e.plaintext] for e in pysubs2.load(path) if not e.is_comment]
    if library == "pycaption":
        import pycaption
        kinds = {".srt": pycaption.SRTReader, ".vtt": pycaption.WebVTTReader, ".dfxp": pycaption.DFXPReader}
        read = kinds[Path(path).suffix]().read(Path(path).read_text())
        return [[c.start / 1000, c.get_text()] for c in read.get_captions(read.get_languages()[0])]
    import webvtt
    read = {".vtt": webvtt.read, ".srt": webvtt.from_srt, ".sbv": webvtt.from_sbv}[Path(path).suffix]
    return [[at(c.start), c.text] for c in read(path)]
try:
    print(json.dumps(cues()))
except Exception:
    print("[]")
"""


def measure(scratch: Path) -> list[Row]:
    """Reads every file twice, and counts those that are read alike, and those that differ by the reason."""
    site = _installed(scratch)
    alike, why = 0, Counter[str]()
    files = [(library, file) for library in LIBRARIES for file in _files(scratch, library)]
    for library, file in files:
        theirs, ours = _theirs(site, library, file), _ours(file)
        if theirs == ours:
            alike += 1
        else:
            said = f"{file.name} {' '.join(text for _, text in theirs)}"
            why[next((reason for reason, sign in REASONS.items() if sign.search(said)), f"NO REASON: {file.name}")] += 1
    told = "; ".join(f"{count} x {reason}" for reason, count in why.most_common())
    return [
        Row(
            what=f"files of {len(LIBRARIES)} subtitle libraries read as they read them", measured=f"{alike} of {len(files)}",
            baseline=told or "—", aim="all, or a reason", met=not any(reason.startswith("NO") for reason in why),
        )
    ]  # fmt: skip


def _installed(scratch: Path) -> Path:
    site = scratch / "libraries"
    wanted = [*(f"{name}=={version}" for name, version in LIBRARIES.items()), *_ALSO]
    _pip("install", "--no-deps", "--target", str(site), *wanted)
    return site


def _files(scratch: Path, library: str) -> list[Path]:
    folder = scratch / "sources" / library
    _pip("download", "--no-deps", "--no-binary", ":all:", "-d", str(folder), f"{library}=={LIBRARIES[library]}")
    with tarfile.open(next(folder.glob("*.tar.gz"))) as packed:
        packed.extractall(folder, filter="data")
    for module in folder.rglob("tests/fixtures/*.py"):
        _written_out(module)
    return sorted(file for file in folder.rglob("*") if file.suffix in READERS.keys() - {".txt", ".json", ".xml"})


def _written_out(module: Path) -> None:
    """Writes the texts that functions of a module give to files: one library keeps its samples so."""
    kind = {"webvtt": "vtt"}.get(module.stem, module.stem)
    for function in ast.walk(ast.parse(module.read_text())):
        if isinstance(function, ast.FunctionDef) and isinstance(function.body[-1], ast.Return):
            given = function.body[-1].value
            if isinstance(given, ast.Constant) and isinstance(given.value, str):
                (module.parent / f"{function.name}.{kind}").write_text(given.value)


def _theirs(site: Path, library: str, file: Path) -> list[tuple[int, str]]:
    done = subprocess.run(
        [sys.executable, "-c", _OWN, library, file], capture_output=True, text=True, check=True,
        env={"PYTHONPATH": str(site)},
    )  # fmt: skip
    tags = r"(?!)" if library == "pycaption" else r"<[^>]*>"
    cues = [(round(start), _plain(re.sub(tags, "", text))) for start, text in json.loads(done.stdout)]
    return [one for one in cues if one[1]]


def _ours(file: Path) -> list[tuple[int, str]]:
    try:
        cues = read_transcript(file.name, file.read_bytes()).cues
    except TranscriptUnreadable:
        return []
    return [(cue.start_ms or 0, " ".join(token.text for token in cue.tokens)) for cue in cues]


def _plain(text: str) -> str:
    return " ".join(text.split())


def _pip(*arguments: str) -> None:
    subprocess.run([sys.executable, "-m", "pip", "-q", *arguments], check=True, capture_output=True)
