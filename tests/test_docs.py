"""What the documents say is so: commands run, settings and links exist."""

import re
import subprocess
from pathlib import Path

import pytest

from nest_crate.settings import Settings

PROJECT = Path(__file__).parent.parent
PAGES = [PROJECT / "README.md", *sorted((PROJECT / "docs").glob("*.md"))]


def commands():
    for page in PAGES:
        for block in re.findall(r"```sh\n(.*?)```", page.read_text(), re.DOTALL):
            yield from (line for line in block.splitlines() if line)


def test_every_setting_is_in_the_table_and_no_other():
    text = (PROJECT / "docs" / "operating.md").read_text()
    named = set(re.findall(r"`NEST_CRATE_([A-Z_]+)`", text))
    assert named == {name.upper() for name in Settings.model_fields}


@pytest.mark.parametrize("page", PAGES, ids=lambda page: page.name)
def test_links_lead_somewhere(page):
    for target in re.findall(r"\]\(([^)#]+)\)", page.read_text()):
        assert (page.parent / target).exists(), target


def test_every_command_works(tmp_path):
    for command in commands():
        words = command.split()
        if words[0] in ("./start", "./test"):
            # What they set up is what this test runs in; here their scripts are only read.
            subprocess.run(["bash", "-n", words[0]], cwd=PROJECT, check=True)
        else:
            words[words.index("-o") + 1] = str(tmp_path / "out.wav")
            subprocess.run(words, cwd=PROJECT, check=True, capture_output=True)
            assert (tmp_path / "out.wav").stat().st_size > 1000


def test_without_root_it_says_exactly_what_to_install(tmp_path):
    script = tmp_path / "setup.sh"
    script.write_text((PROJECT / "scripts" / "setup.sh").read_text())
    tmp_path.chmod(0o755)
    command = f". {script}; id() {{ echo 1000; }}; need_packages no-such-program=its-package"
    result = subprocess.run(["bash", "-c", command], capture_output=True, text=True)
    assert result.returncode == 1
    assert "apt-get install its-package" in result.stderr
