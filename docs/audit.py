"""`make audit`: the licences of what the program is made of, and the known holes of it where the registry tells them."""

from __future__ import annotations

import json
import subprocess
import sys
from collections import Counter
from importlib.metadata import distributions
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
PINS = ("requirements/app.txt", "requirements/dev.txt")


def python_licences() -> dict[str, str]:
    """The licence of each installed package, as its metadata say it."""
    found = {}
    for package in distributions():
        said = package.metadata.get("License-Expression") or package.metadata.get("License") or ""
        classes = [
            line.rsplit("::", 1)[-1].strip() for line in package.metadata.get_all("Classifier") or [] if line.startswith("License")
        ]
        found[f"{package.metadata['Name']} {package.version}"] = said.split("\n")[0][:60] or ", ".join(classes) or "not said"
    return found


def script_licences() -> dict[str, str]:
    """The same of the front end, from the lock file."""
    packages = json.loads((ROOT / "frontend/package-lock.json").read_text())["packages"]
    shipped = {path: entry for path, entry in packages.items() if path and not entry.get("dev")}
    return {
        f"{path.rpartition('node_modules/')[2]} {entry['version']}": entry.get("license", "not said")
        for path, entry in shipped.items()
    }


def told(title: str, licences: dict[str, str]) -> None:
    print(f"\n{title}: {len(licences)}")
    for licence, count in Counter(licences.values()).most_common():
        names = sorted(name for name, said in licences.items() if said == licence)
        print(f"  {count:4}  {licence}: {', '.join(names[:6])}{' …' if count > 6 else ''}")


def holes(title: str, command: list[str], folder: Path) -> bool:
    """Runs one of the registries' own tools; where the registry does not answer, that is said and is no finding."""
    print(f"\nKnown holes, {title}:")
    try:
        done = subprocess.run(command, cwd=folder, capture_output=True, text=True, timeout=240, check=False)
    except (OSError, subprocess.TimeoutExpired) as error:
        print(f"  not asked: {type(error).__name__}")
        return True
    words = (done.stdout + done.stderr).strip()
    unanswered = any(
        sign in words
        for sign in ("ConnectionError", "ENOTFOUND", "ECONNREFUSED", "not available", "endpoint", "HTTPError", "403", "404")
    )
    if done.returncode and unanswered:
        print("  the registry lets nobody ask from here")
        return True
    if unasked := words.count("could not be audited"):
        print(f"  the registry told nothing of {unasked} packages; ask again where it can be reached")
        words = "\n".join(line for line in words.splitlines() if "could not be audited" not in line and "WARNING" not in line)
    print("  " + "\n  ".join(line for line in words.splitlines()[-30:] if line.strip(" -")))
    return done.returncode == 0


def main() -> int:
    told("Python packages", python_licences())
    told("Scripts that are shipped", script_licences())
    sound = holes(
        "Python",
        [sys.executable, "-m", "pip_audit", *(word for pin in PINS for word in ("-r", pin)), "--no-deps", "--disable-pip"],
        ROOT,
    )
    return 0 if holes("scripts", ["npm", "audit", "--omit=dev"], ROOT / "frontend") and sound else 1


if __name__ == "__main__":
    sys.exit(main())
