"""The picture that stands for a link where it is pasted: its lanes as wedges, under its name."""

from io import BytesIO

from lattice import Contents
from PIL import Image, ImageDraw, ImageFont

from studio.worked_out.thumbs import recipe_thumb, thumb

WIDTH, HEIGHT = 1200, 630
"""As pages of messages show it."""
EDGE, HEAD = 48, 132
PAPER, CARD, INK, QUIET = "#efe6d0", "#fdf6ea", "#2b2140", "#5f5570"
JEWELS = ("#b5452c", "#2d6a4b", "#b87d0f", "#22708c", "#5f479c", "#9c4878")
"""The colours of lanes on paper, in turns."""
FINER = 2
"""Drawn so many times as large, and made smaller, so that slants are even."""
MOST_LANES = 12
LONGEST_NAME = 40


def link_picture(shown: Contents) -> bytes:
    """A PNG of its first pattern, or of its first clip."""
    told = recipe_thumb(shown.patterns[0].recipe) if shown.patterns else thumb(shown.clips[0].clip)
    image = Image.new("RGB", (WIDTH * FINER, HEIGHT * FINER), PAPER)
    draw = ImageDraw.Draw(image)

    def at(x: float, y: float) -> tuple[float, float]:
        return x * FINER, y * FINER

    name = shown.name if len(shown.name) <= LONGEST_NAME else f"{shown.name[:LONGEST_NAME - 1]}…"
    draw.text(at(EDGE, 40), name, INK, font=ImageFont.load_default(56 * FINER))
    draw.text(at(WIDTH - EDGE, 62), "Jolly Lattice", QUIET, anchor="ra",
              font=ImageFont.load_default(26 * FINER))
    lanes = told["lanes"][:MOST_LANES]
    high = (HEIGHT - HEAD - EDGE) / max(1, len(lanes))
    wide = WIDTH - 2 * EDGE
    for row, lane in enumerate(lanes):
        top = HEAD + row * high
        draw.rounded_rectangle([at(EDGE, top), at(WIDTH - EDGE, top + high - 8)], 8 * FINER, CARD)
        foot, jewel = top + high - 16, JEWELS[row % len(JEWELS)]
        for share, velocity in lane["notes"]:
            x = EDGE + 10 + share * (wide - 40)
            tall = (high - 28) * velocity / 127
            fall = [at(x + 26 * part / 12, foot - tall * (1 - part / 12) ** 2.4)
                    for part in range(13)]
            draw.polygon([at(x, foot), *fall], jewel)
    data = BytesIO()
    image.resize((WIDTH, HEIGHT), Image.Resampling.LANCZOS).save(data, "PNG", optimize=True)
    return data.getvalue()
