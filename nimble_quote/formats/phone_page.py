"""The page that a phone is shown: the clips of a quote to play and save, and what to post them with."""

import html
from collections.abc import Sequence
from dataclasses import dataclass


@dataclass(frozen=True, kw_only=True)
class PhoneClip:
    """A clip: what it is for, where it is, how large it is in bytes and in pixels, and the text it is posted with."""

    name: str
    address: str
    file_name: str
    still: str
    bytes: int
    width: int
    height: int
    text: str


def write_phone_page(title: str, talk: str, until: str, clips: Sequence[PhoneClip], nonce: str) -> str:
    """The page. `nonce` is what its style and its script are let through by."""
    body = "".join(_clip(number, one) for number, one in enumerate(clips))
    if not clips:
        body = "<p>Nothing of this quote is exported yet. Export it, then load this page again.</p>"
    return _page(
        title, f"<header><p>{html.escape(talk)}</p><h1>{html.escape(title)}</h1></header>{body}"
        f"<footer>This page can be opened until {html.escape(until)}.</footer>"
        f'<script nonce="{nonce}">{_SCRIPT}</script>', nonce,
    )  # fmt: skip


def write_phone_gone(says: str, nonce: str) -> str:
    """A page that only says why there is nothing to see."""
    return _page("Not there", f"<header><h1>{html.escape(says)}</h1></header>", nonce)


def _page(title: str, body: str, nonce: str) -> str:
    return (
        '<!doctype html><html lang="en"><head><meta charset="utf-8">'
        '<meta name="viewport" content="width=device-width, initial-scale=1"><meta name="robots" content="noindex"><link rel="icon" href="data:,">'
        f'<title>{html.escape(title)}</title><style nonce="{nonce}">{_STYLE}</style></head><body>{body}</body></html>'
    )


def _clip(number: int, one: PhoneClip) -> str:
    address, text = html.escape(one.address), html.escape(one.text)
    copying = (
        f'<label for="text-{number}">Posting text</label><textarea id="text-{number}" readonly rows="6">{text}</textarea>'
        f'<button type="button" data-copies="text-{number}">Copy the text</button>'
        if one.text
        else ""
    )
    return (
        f"<section><h2>{html.escape(one.name)} <small>{one.bytes / 1e6:.1f} MB</small></h2>"
        f'<video controls playsinline preload="none" poster="{html.escape(one.still)}" width="{one.width}" height="{one.height}" src="{address}"></video>'
        f'<a class="save" href="{address}?save=1" download="{html.escape(one.file_name)}">Save the clip</a>{copying}</section>'
    )


_STYLE = """
* { box-sizing: border-box; margin: 0 }
body { background: #FAF7F0; color: #1C2330; font: 18px/26px "Atkinson Hyperlegible", system-ui, sans-serif; padding: 20px 16px 40px; max-width: 560px; margin: 0 auto }
header p, small, footer, label { color: #5A6273; font-size: 15px }
h1 { font: 600 26px/32px Literata, Georgia, serif; overflow-wrap: anywhere }
h2 { font-size: 18px; margin-bottom: 8px }
section { margin-top: 24px; padding-top: 16px; border-top: 1px solid #E2DCCD; display: grid; gap: 8px }
video { display: block; width: 100%; height: auto; max-height: 70vh; background: #161A22; border-radius: 6px }
.save, button { display: grid; place-items: center; min-height: 52px; border-radius: 6px; font: inherit; font-weight: 700; text-decoration: none; width: 100% }
.save { background: #0B6E6E; color: #fff }
button { background: #fff; color: #1C2330; border: 1px solid #5A6273 }
textarea { width: 100%; padding: 10px; border: 1px solid #E2DCCD; border-radius: 6px; background: #fff; font: inherit; font-size: 16px }
footer { margin-top: 28px }
"""
_SCRIPT = """
for (const button of document.querySelectorAll('[data-copies]')) button.addEventListener('click', async () => {
	const field = document.getElementById(button.dataset.copies);
	let done = false;
	try { await navigator.clipboard.writeText(field.value); done = true; }
	catch { field.focus(); field.setSelectionRange(0, field.value.length); done = document.execCommand('copy'); }
	button.textContent = done ? 'Copied' : 'Hold the text to copy it';
	setTimeout(() => (button.textContent = 'Copy the text'), 2500);
});
"""
