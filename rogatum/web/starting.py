"""What is done once when the program starts, and what is checked then: the data folder and the key of the installation."""

from __future__ import annotations

import os
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.checks import CheckMessage, Error, Warning, register
from django.core.management.utils import get_random_secret_key


def secret_key(folder: Path) -> str:
    """The key of an installation, made at its first start and kept in its data folder; of several that start, one makes it."""
    path = folder / "secret-key"
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    fresh = path.with_name(f"secret-key-{os.getpid()}")
    if not path.exists():
        fresh.touch(mode=0o600)
        fresh.write_text(get_random_secret_key())
        try:
            os.link(fresh, path)  # fails where another was quicker; nobody ever sees half a key
        except FileExistsError:
            pass
        finally:
            fresh.unlink()
    return path.read_text()


@register()
def check_data_folder(**_kwargs: Any) -> list[CheckMessage]:
    """Whether what is kept can be written, and by nobody else."""
    folder = Path(settings.DATA)
    if not os.access(folder, os.W_OK | os.X_OK):
        hint = "Make it writable for the account that the program runs as, or set ROGATUM_DATA to another folder."
        return [Error(f"The data folder {folder} cannot be written to.", hint=hint, id="rogatum.E001")]
    key = folder / "secret-key"
    if key.exists() and key.stat().st_mode & 0o077:
        hint = f"Run: chmod 600 {key}. If others may have read it, delete it; all will have to sign in anew."
        return [Warning("The key of the installation can be read by others on this machine.", hint=hint, id="rogatum.W001")]
    return []
