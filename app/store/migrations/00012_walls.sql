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

-- A sign-in name is one by its bytes, as the program folds it before it is looked for.
ALTER TABLE person MODIFY sign_in VARCHAR(64) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL;

-- What a device seals with what somebody did there and has not sent yet; made when it is first
-- asked for.
ALTER TABLE person ADD COLUMN IF NOT EXISTS seal_key VARCHAR(64) NOT NULL DEFAULT '';

-- The name of a place and of a charger as it is compared, written by the program. One that a
-- release before this one writes has none, and none is like another.
ALTER TABLE place
  ADD COLUMN IF NOT EXISTS name_folded VARCHAR(80) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NULL AFTER name;
UPDATE place SET name_folded = LOWER(TRIM(name)) WHERE name_folded IS NULL;
ALTER TABLE place DROP KEY IF EXISTS place_name;
CREATE UNIQUE INDEX IF NOT EXISTS place_folded ON place (shop_id, name_folded, active);
ALTER TABLE charger
  ADD COLUMN IF NOT EXISTS name_folded VARCHAR(120) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NULL AFTER name;
UPDATE charger SET name_folded = LOWER(TRIM(name)) WHERE name_folded IS NULL;
ALTER TABLE charger DROP KEY IF EXISTS charger_name;
CREATE UNIQUE INDEX IF NOT EXISTS charger_folded ON charger (shop_id, name_folded, active);

-- The devices on which somebody signed in, under a hash of what the device carries: a right
-- password from one of them is heard whoever else guesses.
CREATE TABLE IF NOT EXISTS known_device (
  hash      CHAR(64)    NOT NULL,
  person_id BINARY(16)  NOT NULL,
  shop_id   BINARY(16)  NOT NULL,
  seen_at   DATETIME(6) NOT NULL,
  PRIMARY KEY (hash, person_id),
  KEY known_device_person (shop_id, person_id),
  KEY known_device_old (seen_at),
  CONSTRAINT known_device_person_fk FOREIGN KEY (person_id) REFERENCES person (id)
);

-- +goose Down
SELECT 1;
