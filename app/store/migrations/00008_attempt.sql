-- +goose Up
-- An order of work that was begun on a battery of a job. How far it has come is its events',
-- which are never changed: they are followed in the order they were kept.
CREATE TABLE IF NOT EXISTS attempt (
  id         BINARY(16)  NOT NULL PRIMARY KEY,
  shop_id    BINARY(16)  NOT NULL,
  job_id     BINARY(16)  NOT NULL,
  battery_id BINARY(16)  NOT NULL,
  person_id  BINARY(16)  NOT NULL,
  name       VARCHAR(32) NOT NULL,
  setting    VARCHAR(400) NOT NULL,
  school     VARCHAR(16) NOT NULL,
  people     INT         NOT NULL,
  minutes    DOUBLE      NULL,
  begun_at   DATETIME(6) NOT NULL,
  KEY attempt_job (shop_id, job_id, begun_at),
  CONSTRAINT attempt_job_fk FOREIGN KEY (job_id) REFERENCES job (id),
  CONSTRAINT attempt_battery_fk FOREIGN KEY (battery_id) REFERENCES battery (id),
  CONSTRAINT attempt_person_fk FOREIGN KEY (person_id) REFERENCES person (id)
);

CREATE TABLE IF NOT EXISTS attempt_event (
  place       BIGINT      NOT NULL AUTO_INCREMENT PRIMARY KEY,
  id          BINARY(16)  NOT NULL,
  shop_id     BINARY(16)  NOT NULL,
  attempt_id  BINARY(16)  NOT NULL,
  person_id   BINARY(16)  NOT NULL,
  step        INT         NOT NULL,
  did         VARCHAR(16) NOT NULL,
  note        VARCHAR(500) NOT NULL,
  at          DATETIME(6) NOT NULL,
  received_at DATETIME(6) NOT NULL,
  UNIQUE KEY attempt_event_id (id),
  KEY attempt_event_attempt (shop_id, attempt_id, place),
  CONSTRAINT attempt_event_attempt_fk FOREIGN KEY (attempt_id) REFERENCES attempt (id),
  CONSTRAINT attempt_event_person_fk FOREIGN KEY (person_id) REFERENCES person (id)
);

-- +goose Down
SELECT 1;
