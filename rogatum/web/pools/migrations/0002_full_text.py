"""Full text search: an FTS5 table beside the items, kept by triggers so that no way of writing items can forget it."""

from django.db import migrations

WORDS = """(SELECT coalesce(group_concat(value, ' '), '') FROM json_tree(new.body)
  WHERE type = 'text' AND (key IN ('content', 'text', 'left', 'right') OR typeof(key) = 'integer'))"""

FORWARD = f"""
CREATE VIRTUAL TABLE pools_item_fts USING fts5(text, title, words, tokenize = "unicode61 remove_diacritics 2");
CREATE TRIGGER pools_item_fts_insert AFTER INSERT ON pools_item BEGIN
  INSERT INTO pools_item_fts(rowid, text, title, words) VALUES (new.id, new.text, new.title || ' ' || new.outcome, {WORDS});
END;
CREATE TRIGGER pools_item_fts_delete AFTER DELETE ON pools_item BEGIN
  DELETE FROM pools_item_fts WHERE rowid = old.id;
END;
CREATE TRIGGER pools_item_fts_update AFTER UPDATE OF text, title, outcome, digest, body ON pools_item
WHEN old.digest <> new.digest OR old.text <> new.text OR old.title <> new.title OR old.outcome <> new.outcome BEGIN
  DELETE FROM pools_item_fts WHERE rowid = old.id;
  INSERT INTO pools_item_fts(rowid, text, title, words) VALUES (new.id, new.text, new.title || ' ' || new.outcome, {WORDS});
END;
"""
BACKWARD = """
DROP TRIGGER pools_item_fts_insert;
DROP TRIGGER pools_item_fts_delete;
DROP TRIGGER pools_item_fts_update;
DROP TABLE pools_item_fts;
"""


class Migration(migrations.Migration):
    dependencies = [("pools", "0001_initial")]
    operations = [migrations.RunSQL(FORWARD, BACKWARD)]
