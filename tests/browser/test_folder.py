"""A folder that the Shelf keeps in step. The origin's own file system stands in for the disk: its
handles are those that the browser's window for folders gives, which no script can answer."""

import pytest
from playwright.sync_api import Locator, expect

from tests.browser.conftest import Studio

pytestmark = pytest.mark.django_db

STAND_IN = """window.showDirectoryPicker = async () => {
  const disk = await navigator.storage.getDirectory()
  return disk.getDirectoryHandle(localStorage.getItem('folder') ?? 'Beats', { create: true })
}"""
ON_DISK = """async () => {
  const disk = await navigator.storage.getDirectory()
  const found = {}
  for await (const [folder, place] of disk.entries()) {
    found[folder] = {}
    for await (const [name, file] of place.entries()) {
      // One that is just being written cannot be read.
      const data = await file.getFile().then((each) => each.arrayBuffer()).catch(() => null)
      if (data) found[folder][name] = [...new Uint8Array(data)]
    }
  }
  return found
}"""
WRITE = """async ([name, text]) => {
  const disk = await navigator.storage.getDirectory()
  const folder = await disk.getDirectoryHandle('Beats', { create: true })
  const stream = await (await folder.getFileHandle(name, { create: true })).createWritable()
  await stream.write(text)
  await stream.close()
}"""


class Disk:
    def __init__(self, studio: Studio) -> None:
        self.studio, self.page = studio, studio.page

    def has(self, folder: str = "Beats") -> dict[str, bytes]:
        found = self.page.evaluate(ON_DISK).get(folder, {})
        return {name: bytes(data) for name, data in found.items()}

    def write(self, name: str, text: str) -> None:
        """As another program does."""
        self.page.evaluate(WRITE, [name, text])

    def shelf(self) -> dict[str, bytes]:
        """The files that the clips on the Shelf would be, by the names of their export."""
        clips = self.studio.api("GET", f"pieces/{self.studio.piece}")["shelf"]
        return {clip["file"]: self.studio.file(clip["id"]) for clip in clips}

    def in_step(self, folder: str = "Beats") -> None:
        expect(self.told).to_contain_text("in step")
        self.studio.comes(lambda: (self.shelf(), self.has(folder)),
                          lambda found: found[0].items() <= found[1].items())

    @property
    def told(self) -> Locator:
        return self.page.get_by_role("group", name="Folder")

    def choose(self) -> None:
        self.page.get_by_role("button", name="Keep a folder on the disk in step").click()
        expect(self.told).to_contain_text("in step")


def keep(studio: Studio) -> None:
    before = studio.page.locator(".shelf li").count()
    studio.page.keyboard.press("k")
    expect(studio.page.locator(".shelf li")).to_have_count(before + 1)


def rename(studio: Studio, name: str) -> None:
    """The newest clip."""
    first = studio.page.locator(".shelf li").first.locator(".name").inner_text()
    studio.pick(f"More for {first}", "Rename …")
    studio.page.get_by_role("textbox", name="Name").fill(name)
    studio.page.keyboard.press("Enter")
    expect(studio.page.locator(".shelf li").first.locator(".name")).to_have_text(name)


@pytest.fixture
def disk(studio: Studio) -> Disk:
    studio.page.add_init_script(STAND_IN)
    studio.own_copy()
    keep(studio)
    return Disk(studio)


def test_kept_renamed_changed_and_asked_before_it_is_deleted(disk: Disk) -> None:
    studio, page = disk.studio, disk.page
    disk.write("tape.txt", "of another")
    disk.choose()
    disk.in_step()
    keep(studio)
    disk.in_step()
    first = page.locator(".shelf li").first
    was = next(iter(disk.shelf()))
    rename(studio, "Gutter: low")
    disk.in_step()
    assert "Gutter- low.mid" in disk.has() and was not in disk.has()
    page.reload()
    first.locator(".name").click()
    page.get_by_role("region", name="Clip").wait_for()
    before = disk.has()["Gutter- low.mid"]
    page.keyboard.press("Control+a")
    page.keyboard.press("Delete")
    expect(first).to_contain_text("0 notes")
    disk.in_step()
    assert disk.has()["Gutter- low.mid"] != before
    studio.pick("More for Gutter: low", "Delete")
    expect(disk.told).to_contain_text("“Gutter- low.mid” is in it still")
    page.get_by_role("button", name="Bring it back").click()
    expect(disk.told).not_to_contain_text("in it still")
    studio.pick("More for Gutter: low", "Delete")
    assert "Gutter- low.mid" in disk.has()
    disk.told.get_by_role("button", name="Delete it").click()
    expect(disk.told).not_to_contain_text("in it still")
    disk.in_step()
    assert set(disk.has()) == {*disk.shelf(), "tape.txt"}
    assert disk.has()["tape.txt"] == b"of another"


def test_what_others_wrote_is_left_and_two_pieces_share_a_folder(disk: Disk) -> None:
    studio, page = disk.studio, disk.page
    (name, _), = disk.shelf().items()
    stem = name.removesuffix(".mid")
    disk.write(name, "a take of somebody's")
    disk.choose()
    expect(disk.told).to_contain_text("1 clip in step")
    assert disk.has() == {name: b"a take of somebody's", f"{stem} 2.mid": disk.shelf()[name]}
    disk.write(f"{stem} 2.mid", "drawn over by hand")
    rename(studio, "Moss")
    disk.in_step()
    assert disk.has() == {name: b"a take of somebody's", f"{stem} 2.mid": b"drawn over by hand",
                          **disk.shelf()}
    # Chosen once more it is the same folder; another one is filled, and the first one left.
    studio.pick("More for the folder", "Another folder …")
    expect(disk.told).to_contain_text("1 clip in step")
    before = disk.has()
    page.evaluate("localStorage.setItem('folder', 'Loops')")
    studio.pick("More for the folder", "Another folder …")
    disk.in_step("Loops")
    keep(studio)
    disk.in_step("Loops")
    assert disk.has() == before
    # Another piece has its own; in one folder their files stand beside each other.
    studio.own_copy()
    page.evaluate("localStorage.setItem('folder', 'Loops')")
    loops = disk.has("Loops")
    expect(page.get_by_role("group", name="Folder")).to_have_count(0)
    keep(studio)
    disk.choose()
    assert loops.items() <= disk.has("Loops").items()
    assert len(disk.has("Loops")) == len(loops) + len(disk.shelf())


def test_a_folder_that_is_gone_and_a_disk_that_is_full(disk: Disk) -> None:
    studio, page = disk.studio, disk.page
    disk.choose()
    page.evaluate("navigator.storage.getDirectory().then((disk) => "
                  "disk.removeEntry('Beats', { recursive: true }))")
    keep(studio)
    expect(disk.told).to_contain_text("“Beats” is not there any more")
    disk.told.get_by_role("button", name="Choose").click()
    expect(disk.told).to_contain_text("2 clips in step")
    disk.in_step()
    devtools = page.context.new_cdp_session(page)
    devtools.send("Storage.overrideQuotaForOrigin",
                  {"origin": disk.studio.address, "quotaSize": 1})
    keep(studio)
    expect(disk.told).to_contain_text("no room left where “Beats” is")
    devtools.send("Storage.overrideQuotaForOrigin", {"origin": disk.studio.address})
    disk.told.get_by_role("button", name="Try again").click()
    expect(disk.told).to_contain_text("3 clips in step")
    disk.in_step()


def test_a_browser_that_cannot_says_so(studio: Studio) -> None:
    studio.page.add_init_script("delete window.showDirectoryPicker")
    studio.own_copy()
    keep(studio)
    studio.page.get_by_role("button", name="Keep a folder on the disk in step").click()
    expect(studio.page.get_by_text("This browser lets no page keep a folder")).to_be_visible()
    with studio.page.expect_download() as found:
        studio.page.get_by_role("button", name="Send all as .zip").click()
        studio.page.get_by_role("dialog").get_by_role("button", name="MIDI file").click()
    assert found.value.suggested_filename.endswith((".zip", ".mid"))
