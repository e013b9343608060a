-- +goose Up
-- How a battery sits, what a job is for, who has it and what it waits for.
ALTER TABLE vehicle ADD COLUMN seat VARCHAR(16) NOT NULL DEFAULT '', ADD COLUMN joined VARCHAR(16) NOT NULL DEFAULT '';
ALTER TABLE battery ADD COLUMN posts VARCHAR(8) NOT NULL DEFAULT '';
ALTER TABLE job
  ADD COLUMN purpose     VARCHAR(16)  NOT NULL DEFAULT 'repair',
  ADD COLUMN assigned_to BINARY(16)   NULL,
  ADD COLUMN waits_for   VARCHAR(16)  NOT NULL DEFAULT '',
  ADD COLUMN waits_note  VARCHAR(300) NOT NULL DEFAULT '',
  ADD KEY job_assigned (shop_id, assigned_to, state);

-- A wait that is being counted. It ends once, answered by a reading or stopped
-- by a hand; until then it runs and, when its time is over, rings.
CREATE TABLE clock (
  id         BINARY(16)  NOT NULL PRIMARY KEY,
  shop_id    BINARY(16)  NOT NULL,
  job_id     BINARY(16)  NOT NULL,
  battery_id BINARY(16)  NOT NULL,
  kind       VARCHAR(16) NOT NULL,
  seconds    DOUBLE      NOT NULL,
  started_at DATETIME(6) NOT NULL,
  started_by BINARY(16)  NOT NULL,
  ended_at   DATETIME(6) NULL,
  outcome    VARCHAR(16) NOT NULL,
  KEY clock_running (shop_id, ended_at, started_at),
  KEY clock_job (shop_id, job_id, started_at),
  CONSTRAINT clock_job_fk FOREIGN KEY (job_id) REFERENCES job (id)
);

-- What was said to a step. Append-only: the last row of a step counts.
CREATE TABLE answer (
  id         BINARY(16)   NOT NULL PRIMARY KEY,
  shop_id    BINARY(16)   NOT NULL,
  job_id     BINARY(16)   NOT NULL,
  battery_id BINARY(16)   NOT NULL,
  code       VARCHAR(32)  NOT NULL,
  value      VARCHAR(16)  NOT NULL,
  note       VARCHAR(300) NOT NULL,
  person_id  BINARY(16)   NOT NULL,
  at         DATETIME(6)  NOT NULL,
  KEY answer_job (shop_id, job_id, at, id),
  CONSTRAINT answer_job_fk FOREIGN KEY (job_id) REFERENCES job (id)
);

-- A stop rule lifted by a person, with the reason. It holds for what was found
-- by then.
CREATE TABLE clearing (
  id         BINARY(16)   NOT NULL PRIMARY KEY,
  shop_id    BINARY(16)   NOT NULL,
  job_id     BINARY(16)   NOT NULL,
  battery_id BINARY(16)   NOT NULL,
  stop       VARCHAR(32)  NOT NULL,
  reason     VARCHAR(300) NOT NULL,
  last       INT          NOT NULL,
  person_id  BINARY(16)   NOT NULL,
  at         DATETIME(6)  NOT NULL,
  KEY clearing_job (shop_id, job_id, at, id),
  CONSTRAINT clearing_job_fk FOREIGN KEY (job_id) REFERENCES job (id)
);

-- A picture taken at the vehicle.
CREATE TABLE photo (
  id         BINARY(16)   NOT NULL PRIMARY KEY,
  shop_id    BINARY(16)   NOT NULL,
  job_id     BINARY(16)   NOT NULL,
  media_type VARCHAR(32)  NOT NULL,
  note       VARCHAR(300) NOT NULL,
  body       MEDIUMBLOB   NOT NULL,
  person_id  BINARY(16)   NOT NULL,
  taken_at   DATETIME(6)  NOT NULL,
  KEY photo_job (shop_id, job_id, taken_at, id),
  CONSTRAINT photo_job_fk FOREIGN KEY (job_id) REFERENCES job (id)
);

-- A meter, clamp or tester that can be read over the network.
CREATE TABLE instrument (
  id         BINARY(16)   NOT NULL PRIMARY KEY,
  shop_id    BINARY(16)   NOT NULL,
  name       VARCHAR(60)  NOT NULL,
  kind       VARCHAR(16)  NOT NULL,
  protocol   VARCHAR(16)  NOT NULL,
  address    VARCHAR(120) NOT NULL,
  due_on     VARCHAR(10)  NOT NULL,
  active     TINYINT(1)   NOT NULL,
  created_at DATETIME(6)  NOT NULL,
  KEY instrument_shop (shop_id, active, name, id),
  CONSTRAINT instrument_shop_fk FOREIGN KEY (shop_id) REFERENCES shop (id)
);

-- +goose Down
DROP TABLE instrument;
DROP TABLE photo;
DROP TABLE clearing;
DROP TABLE answer;
DROP TABLE clock;
ALTER TABLE job DROP KEY job_assigned, DROP COLUMN purpose, DROP COLUMN assigned_to, DROP COLUMN waits_for, DROP COLUMN waits_note;
ALTER TABLE battery DROP COLUMN posts;
ALTER TABLE vehicle DROP COLUMN seat, DROP COLUMN joined;
