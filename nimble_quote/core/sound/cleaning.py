"""What is done to speech, by ffmpeg's own filters: rumble off below the lowest voices, with a slope that keeps plosives from popping
and a voice from thinning; what hisses and hums steadily lowered; levels evened between those who speak, while pauses stay quiet."""

_LATE = 1200
"""So many samples the lowering of noise is late, at 48 kHz: it looks that far ahead."""
_ON_TIME = (f"apad=pad_len={_LATE}", f"atrim=start_sample={_LATE}", "asetpts=PTS-STARTPTS")
_HUM = ("bandreject=f=50:width_type=h:w=4", "bandreject=f=100:width_type=h:w=4", "bandreject=f=150:width_type=h:w=4")
_GATE = "agate=threshold=0.008:ratio=2:range=0.4:attack=10:release=250"
"""Has pauses no louder than they were, though what is said quietly is brought up."""

CLEANING = {
    "light": ",".join(
        [_ON_TIME[0], "highpass=f=70:poles=2", "afftdn=nr=10:nf=-40:tn=1", *_ON_TIME[1:], "dynaudnorm=f=500:g=15:m=2:p=0.7:t=0.02"]
    ),
    "firm": ",".join(
        [_ON_TIME[0], "highpass=f=90:poles=2", *_HUM, "afftdn=nr=20:nf=-40:tn=1", *_ON_TIME[1:], _GATE, "dynaudnorm=f=300:g=11:m=6:p=0.7:t=0.03"]
    ),
}  # fmt: skip
"""The filters of each strength."""
