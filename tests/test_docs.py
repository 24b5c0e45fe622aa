"""What the documents say is so: commands run, settings and links exist."""

import base64
import hashlib
import os
import re
import subprocess
import sys
from pathlib import Path

import pytest
from flask import Flask

from nest_crate.core.sound.kinds import declarations
from nest_crate.settings import Settings
from nest_crate.web.docs import serve_docs

PROJECT = Path(__file__).parent.parent
PAGES = [*sorted(PROJECT.glob("*.md")), *sorted((PROJECT / "docs").glob("*.md"))]
# Made when the documentation is built.
GENERATED = {"reference.md"}


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
        if target in GENERATED or target.startswith("https://"):
            continue
        assert (page.parent / target).exists(), target


def test_the_files_that_recipes_name_are_there():
    text = (PROJECT / "CONTRIBUTING.md").read_text().split("## Recipes")[1]
    named = set(re.findall(r"`([\w/.-]+/[\w/.-]+\.(?:py|tsx?|cjs))`", text))
    assert len(named) > 20
    roots = [PROJECT, PROJECT / "nest_crate", PROJECT / "frontend" / "src"]
    assert [one for one in sorted(named) if not any((root / one).exists() for root in roots)] == []


def test_every_command_works(tmp_path):
    for number, command in enumerate(commands()):
        words = command.split()
        if words[0] in ("./start", "./test"):
            # What they set up is what this test runs in; here their scripts are only read.
            subprocess.run(["bash", "-n", words[0]], cwd=PROJECT, check=True)
        else:
            out = tmp_path / f"out{number}"
            if "-o" in words:
                words[words.index("-o") + 1] = str(out)
            done = subprocess.run(words, cwd=PROJECT, check=True, capture_output=True)
            made = [one for one in out.rglob("*") if one.is_file()] if out.is_dir() else [out]
            sizes = [one.stat().st_size for one in made] if "-o" in words else [len(done.stdout)]
            assert sizes, command
            assert all(size > 20 for size in sizes), command


def test_without_root_it_says_exactly_what_to_install(tmp_path):
    script = tmp_path / "setup.sh"
    script.write_text((PROJECT / "scripts" / "setup.sh").read_text())
    tmp_path.chmod(0o755)
    command = f". {script}; id() {{ echo 1000; }}; need_packages no-such-program=its-package"
    result = subprocess.run(["bash", "-c", command], capture_output=True, text=True)
    assert result.returncode == 1
    assert "apt-get install its-package" in result.stderr


@pytest.fixture(scope="module")
def site(tmp_path_factory):
    """The documentation, built as for the app; a link that leads nowhere is an error."""
    folder = tmp_path_factory.mktemp("site")
    command = [sys.executable, "-m", "mkdocs", "build", "--strict", "-q", "-d", str(folder)]
    environment = {**os.environ, "NO_MKDOCS_2_WARNING": "1"}
    built = subprocess.run(
        command, cwd=PROJECT, env=environment, capture_output=True, text=True, check=False
    )
    assert built.returncode == 0, built.stdout + built.stderr
    return folder


def test_the_site_fetches_nothing_from_elsewhere(site):
    for page in site.glob("*.html"):
        loaded = re.findall(
            r"<(?:script|link|img)[^>]*(?:src|href)=.?(https?://[^\s>]+)", page.read_text()
        )
        assert loaded == [], page.name


def test_the_reference_holds_every_kind_and_number(site):
    page = (site / "reference.html").read_text()
    for group in ("sources", "movers", "processors"):
        for part in declarations()[group].values():
            assert f">{part['name']}<" in page
            for one in part["parameters"]:
                assert f"<code>{one['name']}</code>" in page


def test_the_app_serves_it_and_lets_only_its_own_scripts_run(site):
    app = Flask(__name__)
    serve_docs(app, site)
    client = app.test_client()
    assert client.get("/docs").headers["Location"] == "/docs/index.html"
    with client.get("/docs/index.html") as answer:
        assert answer.status_code == 200
        policy = answer.headers["Content-Security-Policy"]
        scripts = re.findall(r"<script>(.*?)</script>", answer.text, re.DOTALL)
    assert scripts
    for script in scripts:
        digest = base64.b64encode(hashlib.sha256(script.encode()).digest()).decode()
        assert f"'sha256-{digest}'" in policy
    assert "'unsafe-inline'" not in policy.split("script-src")[1].split(";")[0]
    assert client.get("/docs/..%2Fpyproject.toml").status_code == 404
    assert client.get("/docs/no-such-page.html").status_code == 404


@pytest.mark.parametrize(
    "folder",
    [
        folder
        for top in ("nest_crate/core", "nest_crate/catalogue")
        for folder in [PROJECT / top, *sorted((PROJECT / top).rglob("*"))]
        if folder.is_dir() and (folder / "__init__.py").exists()
    ],
    ids=lambda folder: str(folder.relative_to(PROJECT)),
)
def test_every_folder_says_what_lives_there(folder):
    text = (folder / "README.md").read_text()
    for words in ("May import", "Start with", "Example"):
        assert f"**{words}**" in text
