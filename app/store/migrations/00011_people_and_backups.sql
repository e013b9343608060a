-- +goose Up
-- Sign-in names are one's own in the whole database, so that a name alone says which shop.
ALTER TABLE person
  ADD COLUMN IF NOT EXISTS second_step   TINYINT(1)  NOT NULL DEFAULT 0,
  ADD COLUMN IF NOT EXISTS second_secret VARCHAR(64) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS second_last   BIGINT      NOT NULL DEFAULT 0;
ALTER TABLE person ADD UNIQUE KEY person_name (sign_in);

-- A device on which somebody signed in. What the cookie opens is kept in sessions, under a
-- hash of its token; those of earlier releases stood there as they were, and are ended.
CREATE TABLE IF NOT EXISTS signed_in (
  id        BINARY(16)   NOT NULL PRIMARY KEY,
  shop_id   BINARY(16)   NOT NULL,
  person_id BINARY(16)   NOT NULL,
  begun_at  DATETIME(6)  NOT NULL,
  seen_at   DATETIME(6)  NOT NULL,
  ended_at  DATETIME(6)  NULL,
  address   VARCHAR(64)  NOT NULL,
  device    VARCHAR(120) NOT NULL,
  KEY signed_in_person (shop_id, person_id, ended_at, seen_at),
  CONSTRAINT signed_in_person_fk FOREIGN KEY (person_id) REFERENCES person (id)
);
DELETE FROM sessions;

-- What has failed lately for a name, an address or a session, under a hash of it.
CREATE TABLE IF NOT EXISTS sign_in_guard (
  subject  CHAR(64)    NOT NULL PRIMARY KEY,
  failures INT         NOT NULL,
  last_at  DATETIME(6) NOT NULL,
  KEY sign_in_guard_old (last_at)
);

-- The code with which somebody may set another password, once; the last that was made.
CREATE TABLE IF NOT EXISTS reset_code (
  person_id BINARY(16)  NOT NULL PRIMARY KEY,
  shop_id   BINARY(16)  NOT NULL,
  hash      CHAR(64)    NOT NULL,
  until_at  DATETIME(6) NOT NULL,
  CONSTRAINT reset_code_person_fk FOREIGN KEY (person_id) REFERENCES person (id)
);

-- The codes that stand in for a lost phone, once each.
CREATE TABLE IF NOT EXISTS recovery_code (
  person_id BINARY(16)  NOT NULL,
  hash      CHAR(64)    NOT NULL,
  shop_id   BINARY(16)  NOT NULL,
  used_at   DATETIME(6) NULL,
  PRIMARY KEY (person_id, hash),
  CONSTRAINT recovery_code_person_fk FOREIGN KEY (person_id) REFERENCES person (id)
);

-- What one of the servers on the database does for all, until when it may.
CREATE TABLE IF NOT EXISTS claim (
  name     VARCHAR(32) NOT NULL PRIMARY KEY,
  holder   BINARY(16)  NOT NULL,
  until_at DATETIME(6) NOT NULL
);

-- Every backup that was tried. It is the whole database's, not a shop's.
CREATE TABLE IF NOT EXISTS backup_run (
  id        BINARY(16)   NOT NULL PRIMARY KEY,
  made_at   DATETIME(6)  NOT NULL,
  why       VARCHAR(16)  NOT NULL,
  host      VARCHAR(120) NOT NULL,
  path      VARCHAR(500) NOT NULL,
  bytes     BIGINT       NOT NULL,
  row_count BIGINT       NOT NULL,
  seconds   DOUBLE       NOT NULL,
  trouble   VARCHAR(500) NOT NULL,
  KEY backup_run_made (made_at, id)
);

-- The verdict that holds is kept whole; of those before it what changed to the next is.
ALTER TABLE verdict
  ADD COLUMN IF NOT EXISTS whole TINYINT(1) NOT NULL DEFAULT 1,
  ADD COLUMN IF NOT EXISTS past  MEDIUMBLOB NOT NULL DEFAULT '';
ALTER TABLE verdict ADD KEY verdict_whole (whole, shop_id, job_id, battery_id);

-- +goose Down
SELECT 1;
