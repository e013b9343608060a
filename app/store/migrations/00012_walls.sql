-- +goose Up
-- What a database says of itself. Its id tells its backups from those of other databases; one
-- that held a shop before goes by that shop, as the backup does that is made before this.
CREATE TABLE IF NOT EXISTS about_database (
  name  VARCHAR(32)  NOT NULL PRIMARY KEY,
  value VARCHAR(200) NOT NULL
);
INSERT IGNORE INTO about_database (name, value)
  SELECT 'id', COALESCE(
    (SELECT LOWER(LEFT(SHA2(id, 256), 16)) FROM shop ORDER BY created_at, id LIMIT 1),
    LOWER(LEFT(SHA2(CONCAT(UUID(), RAND(), NOW(6)), 256), 16)));

-- The schema of what is in a backup, 0 for one of a release before, and when its file was taken
-- away: a file that was not taken away and is not there is missing.
ALTER TABLE backup_run
  ADD COLUMN IF NOT EXISTS schema_version BIGINT      NOT NULL DEFAULT 0,
  ADD COLUMN IF NOT EXISTS removed_at     DATETIME(6) NULL;

-- +goose Down
SELECT 1;
