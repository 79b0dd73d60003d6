"""The icons that the installed application has, drawn from its one picture."""

from pathlib import Path

from ops.chromium import chromium

PUBLIC = Path(__file__).resolve().parents[1] / "web" / "public"
SIZES = {"icon-192.png": (192, False), "icon-512.png": (512, False),
         "icon-maskable.png": (512, True)}


def draw() -> None:
    """Draw them. A maskable one fills its square, since systems cut it into shapes of their own."""
    picture = (PUBLIC / "assets-icon.svg").read_text()
    with chromium(512, 512) as page:
        for name, (size, maskable) in SIZES.items():
            svg = picture.replace('rx="7"', 'rx="0"').replace(
                "<path", '<path transform="translate(4 4) scale(.75)"') if maskable else picture
            page.set_viewport_size({"width": size, "height": size})
            page.set_content(f"<style>* {{ margin: 0; background: transparent }} svg {{ display: "
                             f"block; width: {size}px; height: {size}px }}</style>{svg}")
            page.screenshot(path=PUBLIC / name, omit_background=True)
