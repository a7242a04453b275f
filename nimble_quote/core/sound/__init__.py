"""What is heard besides speech: music and sounds under it, how loud at each moment, and where a piece can be looped."""
