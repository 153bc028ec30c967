from __future__ import annotations

import logging
import time
from typing import Any

from django.conf import settings
from django.db.backends.sqlite3 import base

from rogatum.web.database.giving_way import precedence
from rogatum.web.database.holders import holder

log = logging.getLogger("rogatum.web.locks")


class DatabaseWrapper(base.DatabaseWrapper):
    """Tells of transactions that hold the lock on writing for longer than `settings.LOCK_TOLD` seconds."""

    # The longest that a transaction held it, in seconds, since this was last set to none (`steps.py`).
    held: float = 0.0
    _since: float | None = None
    _worked: float = 0.0

    def _start_transaction_under_autocommit(self) -> None:
        precedence.begin()
        try:
            super()._start_transaction_under_autocommit()  # type: ignore[no-untyped-call]
        except BaseException:
            precedence.not_begun()
            raise
        self._since, self._worked = time.monotonic(), time.thread_time()
        precedence.take(self)

    def create_cursor(self, name: str | None = None) -> Any:
        precedence.give_way(self)
        return super().create_cursor(name)

    def _commit(self) -> Any:
        done = super()._commit()
        self._told()
        return done

    def _rollback(self) -> Any:
        done = super()._rollback()
        self._told()
        return done

    def _close(self) -> None:
        super()._close()  # type: ignore[no-untyped-call]
        self._told()

    def _told(self) -> None:
        precedence.give_up(self)
        if self._since is None:
            return
        held, self._since = time.monotonic() - self._since, None
        self.held = max(self.held, held)
        if held >= settings.LOCK_TOLD:
            # What is missing of it to the whole was spent waiting: for a processor, for other threads, for the disk.
            worked = time.thread_time() - self._worked
            log.warning("held the lock on writing for %.2f s, %.2f of them at work: %s", held, worked, holder.get())
