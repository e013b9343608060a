-- +goose Up
-- Batteries and vehicles before jobs: where a battery sits, where things stand, and
-- readings, clocks, answers and pictures that may belong to a job and need not.

-- What happens once in a shop's life: the row is there when it has happened.
CREATE TABLE IF NOT EXISTS milestone (
  name VARCHAR(32) NOT NULL PRIMARY KEY
);
INSERT IGNORE INTO milestone (name) SELECT 'set_up' FROM shop LIMIT 1;

-- Every write that carries a key of its own: the same key again is the same deed.
-- What an earlier release wrote is known by its key alone.
CREATE TABLE IF NOT EXISTS deed (
  id        BINARY(16)  NOT NULL PRIMARY KEY,
  shop_id   BINARY(16)  NOT NULL,
  kind      VARCHAR(32) NOT NULL,
  subject   BINARY(16)  NULL,
  person_id BINARY(16)  NULL,
  body      LONGTEXT    NOT NULL DEFAULT '',
  answer    LONGTEXT    NOT NULL DEFAULT '',
  at        DATETIME(6) NOT NULL
);
INSERT IGNORE INTO deed (id, shop_id, kind, subject, person_id, body, answer, at)
SELECT id, shop_id, 'brought_in', NULL, opened_by, '', '', opened_at FROM job;
INSERT IGNORE INTO deed (id, shop_id, kind, subject, person_id, body, answer, at)
SELECT id, shop_id, CASE act WHEN 'kept' THEN 'reading_kept' WHEN 'corrected' THEN 'reading_corrected' WHEN 'mistaken' THEN 'reading_mistaken' ELSE 'reading_restored' END, job_id, person_id, '', '', received_at FROM reading;
INSERT IGNORE INTO deed (id, shop_id, kind, subject, person_id, body, answer, at)
SELECT id, shop_id, 'answered', job_id, person_id, '', '', at FROM answer;
INSERT IGNORE INTO deed (id, shop_id, kind, subject, person_id, body, answer, at)
SELECT id, shop_id, 'stop_cleared', job_id, person_id, '', '', at FROM clearing;
INSERT IGNORE INTO deed (id, shop_id, kind, subject, person_id, body, answer, at)
SELECT id, shop_id, 'clock_started', job_id, started_by, '', '', started_at FROM clock;
INSERT IGNORE INTO deed (id, shop_id, kind, subject, person_id, body, answer, at)
SELECT id, shop_id, 'photo_kept', job_id, person_id, '', '', taken_at FROM photo;
INSERT IGNORE INTO deed (id, shop_id, kind, subject, person_id, body, answer, at)
SELECT id, shop_id, 'person_added', NULL, NULL, '', '', created_at FROM person;

ALTER TABLE shop ADD COLUMN IF NOT EXISTS touched BIGINT NOT NULL DEFAULT 0;

-- A place or charger that is off the list is kept for what stood there: active is then
-- null, so that its name is free.
CREATE TABLE IF NOT EXISTS place (
  id         BINARY(16)  NOT NULL PRIMARY KEY,
  shop_id    BINARY(16)  NOT NULL,
  name       VARCHAR(40) NOT NULL,
  kind       VARCHAR(16) NOT NULL,
  indoors    TINYINT(1)  NOT NULL,
  watts      DOUBLE      NULL,
  room_m3    DOUBLE      NULL,
  ordinal    INT         NOT NULL,
  active     TINYINT(1)  NULL,
  created_at DATETIME(6) NOT NULL,
  UNIQUE KEY place_name (shop_id, name, active),
  KEY place_order (shop_id, active, ordinal, id),
  CONSTRAINT place_shop FOREIGN KEY (shop_id) REFERENCES shop (id)
);
-- The places that stood in the program, for every shop there is, and any other that a
-- job names. Their keys are made from shop and name, so that they are the same each time.
INSERT IGNORE INTO place (id, shop_id, name, kind, indoors, watts, room_m3, ordinal, active, created_at)
SELECT UNHEX(MD5(CONCAT('place/', HEX(shop.id), '/', usual.name))), shop.id, usual.name, usual.kind, usual.indoors, NULL, NULL, usual.ordinal, 1, shop.created_at
FROM shop JOIN (
  SELECT 'Bay 1' AS name, 'bay' AS kind, 1 AS indoors, 1 AS ordinal UNION ALL SELECT 'Bay 2', 'bay', 1, 2 UNION ALL SELECT 'Bay 3', 'bay', 1, 3
  UNION ALL SELECT 'Shelf', 'shelf', 1, 4 UNION ALL SELECT 'Yard', 'yard', 0, 5 UNION ALL SELECT 'Counter', 'counter', 1, 6
) AS usual;
INSERT IGNORE INTO place (id, shop_id, name, kind, indoors, watts, room_m3, ordinal, active, created_at)
SELECT UNHEX(MD5(CONCAT('place/', HEX(named.shop_id), '/', named.place))), named.shop_id, named.place, 'yard', 0, NULL, NULL, 100, 1, named.opened_at
FROM (SELECT shop_id, place, MIN(opened_at) AS opened_at FROM job WHERE place <> '' GROUP BY shop_id, place) AS named;

CREATE TABLE IF NOT EXISTS charger (
  id          BINARY(16)  NOT NULL PRIMARY KEY,
  shop_id     BINARY(16)  NOT NULL,
  name        VARCHAR(60) NOT NULL,
  kind        VARCHAR(16) NOT NULL,
  amps        JSON        NOT NULL,
  volts       DOUBLE      NULL,
  settings    JSON        NOT NULL,
  wake_v      DOUBLE      NULL,
  compensates TINYINT(1)  NOT NULL,
  place_id    BINARY(16)  NULL,
  active      TINYINT(1)  NULL,
  created_at  DATETIME(6) NOT NULL,
  UNIQUE KEY charger_name (shop_id, name, active),
  KEY charger_order (shop_id, active, name, id),
  CONSTRAINT charger_place FOREIGN KEY (place_id) REFERENCES place (id)
);

-- Which battery sits where in which vehicle, from when to when. One battery is in one
-- place at a time, and one place in a vehicle has one battery.
CREATE TABLE IF NOT EXISTS installation (
  id         BINARY(16)  NOT NULL PRIMARY KEY,
  shop_id    BINARY(16)  NOT NULL,
  battery_id BINARY(16)  NOT NULL,
  vehicle_id BINARY(16)  NOT NULL,
  position   VARCHAR(32) NOT NULL,
  from_at    DATETIME(6) NOT NULL,
  to_at      DATETIME(6) NULL,
  KEY installation_vehicle (shop_id, vehicle_id, to_at),
  KEY installation_battery (shop_id, battery_id, from_at),
  CONSTRAINT installation_battery_fk FOREIGN KEY (battery_id) REFERENCES battery (id),
  CONSTRAINT installation_vehicle_fk FOREIGN KEY (vehicle_id) REFERENCES vehicle (id)
);
INSERT IGNORE INTO installation (id, shop_id, battery_id, vehicle_id, position, from_at, to_at)
SELECT id, shop_id, battery_id, vehicle_id, position, from_at, to_at FROM battery_seat;
-- Where an earlier release left two batteries in one place, the one fitted last is there.
UPDATE installation SET to_at = (
  SELECT later.from_at FROM battery_seat AS later
  WHERE later.shop_id = installation.shop_id AND later.vehicle_id = installation.vehicle_id AND later.position = installation.position AND later.to_at IS NULL AND later.from_at > installation.from_at
  ORDER BY later.from_at, later.id LIMIT 1)
WHERE to_at IS NULL;

-- A battery or a vehicle at a place, from when to when, and what for.
CREATE TABLE IF NOT EXISTS stay (
  id         BINARY(16)  NOT NULL PRIMARY KEY,
  shop_id    BINARY(16)  NOT NULL,
  battery_id BINARY(16)  NULL,
  vehicle_id BINARY(16)  NULL,
  place_id   BINARY(16)  NOT NULL,
  from_at    DATETIME(6) NOT NULL,
  to_at      DATETIME(6) NULL,
  purpose    VARCHAR(16) NOT NULL,
  job_id     BINARY(16)  NULL,
  KEY stay_place (shop_id, place_id, to_at, from_at),
  KEY stay_battery (shop_id, battery_id, to_at),
  KEY stay_vehicle (shop_id, vehicle_id, to_at),
  KEY stay_job (shop_id, job_id, from_at),
  CONSTRAINT stay_place_fk FOREIGN KEY (place_id) REFERENCES place (id),
  CONSTRAINT stay_of CHECK (battery_id IS NOT NULL OR vehicle_id IS NOT NULL)
);

ALTER TABLE vehicle
  ADD COLUMN IF NOT EXISTS cranks_12v TINYINT(1) NULL,
  ADD COLUMN IF NOT EXISTS system_v DOUBLE NULL,
  ADD COLUMN IF NOT EXISTS tray VARCHAR(16) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS plate_plain VARCHAR(32) GENERATED ALWAYS AS (UPPER(REPLACE(plate, ' ', ''))) STORED,
  ADD KEY IF NOT EXISTS vehicle_plain (shop_id, plate_plain, id);
UPDATE vehicle SET tray = seat WHERE tray = '';

ALTER TABLE battery
  ADD COLUMN IF NOT EXISTS deep_cycle TINYINT(1) NULL,
  ADD COLUMN IF NOT EXISTS plates VARCHAR(16) NOT NULL DEFAULT '';

ALTER TABLE job
  ADD COLUMN IF NOT EXISTS place_id BINARY(16) NULL,
  ADD COLUMN IF NOT EXISTS touched BIGINT NOT NULL DEFAULT 0,
  ADD KEY IF NOT EXISTS job_closed (shop_id, state, closed_at, id);
UPDATE job SET place_id = (SELECT place.id FROM place WHERE place.shop_id = job.shop_id AND place.name = job.place) WHERE place <> '';
-- What is in the shop now stands where its job says.
INSERT IGNORE INTO stay (id, shop_id, battery_id, vehicle_id, place_id, from_at, to_at, purpose, job_id)
SELECT UNHEX(MD5(CONCAT('stay/', HEX(job.id)))), job.shop_id, CASE WHEN job.vehicle_id IS NULL THEN (SELECT job_battery.battery_id FROM job_battery WHERE job_battery.job_id = job.id ORDER BY job_battery.ordinal LIMIT 1) END,
  job.vehicle_id, job.place_id, job.opened_at, job.closed_at, 'job', job.id
FROM job WHERE job.place_id IS NOT NULL;

ALTER TABLE reading MODIFY COLUMN job_id BINARY(16) NULL;
ALTER TABLE clock MODIFY COLUMN job_id BINARY(16) NULL, ADD COLUMN IF NOT EXISTS vehicle_id BINARY(16) NULL, ADD KEY IF NOT EXISTS clock_battery (shop_id, battery_id, ended_at);
ALTER TABLE answer MODIFY COLUMN job_id BINARY(16) NULL, ADD COLUMN IF NOT EXISTS vehicle_id BINARY(16) NULL, ADD KEY IF NOT EXISTS answer_battery (shop_id, battery_id, at, id);
ALTER TABLE photo MODIFY COLUMN job_id BINARY(16) NULL, ADD COLUMN IF NOT EXISTS battery_id BINARY(16) NULL, ADD COLUMN IF NOT EXISTS vehicle_id BINARY(16) NULL, ADD KEY IF NOT EXISTS photo_battery (shop_id, battery_id, taken_at, id);
-- A stop rule is lifted for the readings it names.
ALTER TABLE clearing MODIFY COLUMN job_id BINARY(16) NULL, ADD COLUMN IF NOT EXISTS readings LONGTEXT NOT NULL DEFAULT '', ADD COLUMN IF NOT EXISTS revision INT NOT NULL DEFAULT 0;

-- What a job has come to, for boards and lists: the battery that has to be seen to
-- first, its verdict, the wait and what is next. Made anew whenever what it rests on is
-- another: the job itself, or the basis that all jobs share.
CREATE TABLE IF NOT EXISTS job_state (
  job_id     BINARY(16)   NOT NULL PRIMARY KEY,
  shop_id    BINARY(16)   NOT NULL,
  revision   INT          NOT NULL,
  basis      VARCHAR(32)  NOT NULL,
  battery_id BINARY(16)   NULL,
  batteries  INT          NOT NULL,
  action     VARCHAR(24)  NOT NULL,
  waits      VARCHAR(16)  NOT NULL,
  next_step  VARCHAR(500) NOT NULL,
  made_at    DATETIME(6)  NOT NULL,
  KEY job_state_shop (shop_id, action),
  CONSTRAINT job_state_job FOREIGN KEY (job_id) REFERENCES job (id)
);
INSERT IGNORE INTO job_state (job_id, shop_id, revision, basis, battery_id, batteries, action, waits, next_step, made_at)
SELECT job.id, job.shop_id, job.revision, '', verdict.battery_id, 1, COALESCE(verdict.action, 'more_tests'), COALESCE(verdict.waits, 'hands'), COALESCE(verdict.next_step, ''), COALESCE(verdict.made_at, job.opened_at)
FROM job LEFT JOIN verdict ON verdict.id = job.verdict_id;

-- +goose Down
SELECT 1;
