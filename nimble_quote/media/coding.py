"""How the colours of a source are coded, and bringing them to what clips and proxies are: BT.709, limited range.

Preview and export alike begin with this, so that both show the same. High dynamic range (HLG, PQ) is mapped to the
standard range: the source's reference white of 203 nits (ITU-R BT.2408) becomes the white that is mapped from, what is
darker stays nearly as it is, what is brighter is compressed.
"""

from dataclasses import dataclass
from pathlib import Path

from nimble_quote.media.ffmpeg import ffprobe_once

TAGS = ("-colorspace", "bt709", "-color_primaries", "bt709", "-color_trc", "bt709", "-color_range", "tv")
"""Options that say of a coded picture that its colours are so."""
_MATRICES = {"bt709": "bt709", "smpte170m": "bt601", "bt470bg": "bt601", "bt2020nc": "bt2020"}
_HIGH_RANGE = ("arib-std-b67", "smpte2084")
_REFERENCE_WHITE = 203


@dataclass(frozen=True, kw_only=True)
class Coding:
    """The matrix, range and transfer of a source, by ffmpeg's names."""

    matrix: str = "bt709"
    full_range: bool = False
    transfer: str = "bt709"

    @property
    def is_high_range(self) -> bool:
        return self.transfer in _HIGH_RANGE

    def scaled(self, width: int, height: int) -> str:
        """The filters that bring a picture to a size and to BT.709, limited range, eight bits."""
        size = f"scale={width}:{height}"
        if self.is_high_range:
            return f"{size},{self._mapped()}"
        if self == Coding():
            return f"{size},format=yuv420p"
        # The format right behind: another filter would take what is still called full-range for what it says.
        into = "out_color_matrix=bt709:out_range=tv"
        return f"{size}:in_color_matrix={self.matrix}:in_range={self._range}:{into},format=yuv420p"

    def _mapped(self) -> str:
        source = f"tin={self.transfer}:pin=2020:min=2020_ncl:rin={'full' if self.full_range else 'limited'}"
        return (
            f"zscale={source}:t=linear:npl={_REFERENCE_WHITE},format=gbrpf32le,zscale=p=bt709,tonemap=mobius:desat=0,"
            "zscale=t=bt709:m=bt709:r=limited,format=yuv420p"
        )

    @property
    def _range(self) -> str:
        return "pc" if self.full_range else "tv"


async def coding_of(path: Path) -> Coding:
    """How a source's colours are coded; untagged small pictures are of the older kind, as players assume."""
    entries = "stream=color_space,color_range,color_transfer,height"
    found = await ffprobe_once(path, "-select_streams", "V:0", "-show_entries", entries)
    stream = found["streams"][0]
    usual = "bt709" if int(stream["height"]) >= 720 or stream.get("color_range") == "pc" else "bt601"
    transfer = stream.get("color_transfer", "bt709")
    return Coding(
        matrix=_MATRICES.get(stream.get("color_space", "unknown"), usual),
        full_range=stream.get("color_range") == "pc",
        transfer=transfer if transfer in _HIGH_RANGE else "bt709",
    )
