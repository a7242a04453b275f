"""What was said beside what is kept, as a plain page: to be printed, sent, or answered by who said it."""

import html
from collections.abc import Sequence
from dataclasses import dataclass

from nimble_quote.core.cutting.reading import SaidLine


@dataclass(frozen=True, kw_only=True)
class Section:
    """One cut of a quote: what it is for, how long it runs, its lines, and what was found unfair or accepted in it."""

    title: str
    length_ms: int
    lines: Sequence[SaidLine]
    notes: Sequence[str] = ()


@dataclass(frozen=True, kw_only=True)
class Answering:
    """Where an answer goes, until when, and what was answered so far."""

    action: str
    until: str
    answered: str | None


def write_as_said(title: str, talk: str, sections: Sequence[Section], answering: Answering | None = None) -> str:
    """The page, of plain HTML that needs nothing else."""
    body = "".join(_section(one) for one in sections)
    form = _form(answering) if answering else ""
    return (
        f'<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width">'
        f'<meta name="robots" content="noindex"><title>{html.escape(title)}: as said, as kept</title><style>{_STYLE}</style></head>'
        f"<body><h1>{html.escape(title)}</h1><p>From {html.escape(talk)}. On the left what was said, with what is left out "
        f"struck through; on the right what will be heard.</p>{body}{form}</body></html>"
    )


def write_gone(says: str) -> str:
    """A page that only says that there is nothing to see."""
    return (
        '<!doctype html><html lang="en"><head><meta charset="utf-8"><title>Not there</title>'
        f"<style>{_STYLE}</style></head><body><h1>{html.escape(says)}</h1></body></html>"
    )


def _section(one: Section) -> str:
    rows = "".join(_row(line) for line in one.lines)
    notes = "".join(f"<li>{html.escape(note)}</li>" for note in one.notes)
    return (
        f"<h2>{html.escape(one.title)} <small>{one.length_ms / 1000:.1f} s</small></h2>"
        f"<table><thead><tr><th>As said</th><th>As kept</th></tr></thead><tbody>{rows}</tbody></table>"
        + (f"<ul>{notes}</ul>" if notes else "")
    )


def _row(line: SaidLine) -> str:
    runs: list[tuple[bool, list[str]]] = []
    for word, kept in line.words:
        if not runs or runs[-1][0] != kept:
            runs.append((kept, []))
        runs[-1][1].append(html.escape(word))
    said = " ".join(" ".join(words) if kept else f"<s>{' '.join(words)}</s>" for kept, words in runs)
    speaker = f"<b>{html.escape(line.speaker)}</b> " if line.speaker else ""
    heard = html.escape(line.kept) if line.kept else '<i class="gone">left out</i>'
    captions = ""
    if line.captions is not None and line.captions != line.kept:
        captions = f'<p class="captions">The captions say: {html.escape(line.captions) or "nothing"}</p>'
    return f"<tr><td>{speaker}{said}</td><td>{heard}{captions}</td></tr>"


def _form(one: Answering) -> str:
    answered = f'<p class="answered">{html.escape(one.answered)}</p>' if one.answered else ""
    return (
        f'{answered}<form method="post" action="{html.escape(one.action)}"><h2>Your answer</h2>'
        '<p><label>Your name<br><input name="by" required maxlength="80" autocomplete="name"></label></p>'
        '<p><label>What should be changed, or anything else<br><textarea name="note" rows="4" maxlength="2000"></textarea></label></p>'
        '<p><button name="answer" value="approved">I approve this</button> '
        '<button name="answer" value="change wanted">I ask for a change</button></p>'
        f"<p>This page can be read until {html.escape(one.until)}. Nothing else is shared with you.</p></form>"
    )


_STYLE = (
    "body{font:12pt/1.55 Georgia,serif;max-width:60em;margin:2em auto;padding:0 1em;color:#111}h1{font-size:19pt}"
    "h2{font-size:13pt;margin:1.4em 0 .4em}small,th,ul,label{font:10pt/1.4 sans-serif;color:#444}table{width:100%;"
    "border-collapse:collapse}th{text-align:left}td{width:50%;vertical-align:top;border-top:1px solid #bbb;padding:.45em .8em .45em 0}"
    "tr{break-inside:avoid}s{color:#a33}.gone{color:#777}.captions{margin:.3em 0 0;font:10pt/1.4 sans-serif;color:#444}.answered{border:2px solid #2f7d4f;padding:.6em}"
    "input,textarea{font:12pt Georgia,serif;width:100%;box-sizing:border-box;padding:.4em}button{font:11pt sans-serif;"
    "padding:.6em 1.1em;margin-right:.6em}@media print{form{display:none}}@media(max-width:40em){td{font-size:11pt}}"
)
