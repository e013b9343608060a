-- +goose Up
CREATE TABLE shop (
  id         BINARY(16)   NOT NULL PRIMARY KEY,
  name       VARCHAR(120) NOT NULL,
  time_zone  VARCHAR(64)  NOT NULL,
  school     VARCHAR(32)  NOT NULL,
  created_at DATETIME(6)  NOT NULL
);

CREATE TABLE person (
  id            BINARY(16)   NOT NULL PRIMARY KEY,
  shop_id       BINARY(16)   NOT NULL,
  name          VARCHAR(120) NOT NULL,
  initials      VARCHAR(4)   NOT NULL,
  sign_in       VARCHAR(64)  NOT NULL,
  role          VARCHAR(16)  NOT NULL,
  password_hash VARCHAR(255) NOT NULL,
  active        TINYINT(1)   NOT NULL,
  created_at    DATETIME(6)  NOT NULL,
  UNIQUE KEY person_sign_in (shop_id, sign_in),
  CONSTRAINT person_shop FOREIGN KEY (shop_id) REFERENCES shop (id)
);

CREATE TABLE customer (
  id         BINARY(16)   NOT NULL PRIMARY KEY,
  shop_id    BINARY(16)   NOT NULL,
  name       VARCHAR(120) NOT NULL,
  phone      VARCHAR(40)  NOT NULL,
  created_at DATETIME(6)  NOT NULL,
  KEY customer_name (shop_id, name, id),
  CONSTRAINT customer_shop FOREIGN KEY (shop_id) REFERENCES shop (id)
);

CREATE TABLE vehicle (
  id               BINARY(16)   NOT NULL PRIMARY KEY,
  shop_id          BINARY(16)   NOT NULL,
  customer_id      BINARY(16)   NULL,
  plate            VARCHAR(32)  NOT NULL,
  description      VARCHAR(160) NOT NULL,
  kind             VARCHAR(16)  NOT NULL,
  engine           VARCHAR(16)  NOT NULL,
  litres           DOUBLE       NULL,
  required_cca     DOUBLE       NULL,
  start_stop       TINYINT(1)   NULL,
  managed_charging TINYINT(1)   NULL,
  earth            VARCHAR(16)  NOT NULL,
  created_at       DATETIME(6)  NOT NULL,
  KEY vehicle_plate (shop_id, plate, id),
  KEY vehicle_customer (shop_id, customer_id),
  CONSTRAINT vehicle_shop FOREIGN KEY (shop_id) REFERENCES shop (id)
);

CREATE TABLE battery (
  id              BINARY(16)   NOT NULL PRIMARY KEY,
  shop_id         BINARY(16)   NOT NULL,
  tag             VARCHAR(40)  NOT NULL,
  maker           VARCHAR(120) NOT NULL,
  chemistry       VARCHAR(16)  NOT NULL,
  nominal_v       DOUBLE       NOT NULL,
  rating_value    DOUBLE       NULL,
  rating_standard VARCHAR(8)   NOT NULL,
  capacity_ah     DOUBLE       NULL,
  reserve_min     DOUBLE       NULL,
  made            VARCHAR(7)   NOT NULL,
  sealed          TINYINT(1)   NULL,
  eye_fitted      TINYINT(1)   NULL,
  label_load_a    DOUBLE       NULL,
  full_sg         DOUBLE       NULL,
  created_at      DATETIME(6)  NOT NULL,
  KEY battery_tag (shop_id, tag, id),
  CONSTRAINT battery_shop FOREIGN KEY (shop_id) REFERENCES shop (id)
);

-- Which battery sat where in which vehicle, from when to when.
CREATE TABLE battery_seat (
  id         BINARY(16)  NOT NULL PRIMARY KEY,
  shop_id    BINARY(16)  NOT NULL,
  battery_id BINARY(16)  NOT NULL,
  vehicle_id BINARY(16)  NOT NULL,
  position   VARCHAR(32) NOT NULL,
  from_at    DATETIME(6) NOT NULL,
  to_at      DATETIME(6) NULL,
  KEY seat_vehicle (shop_id, vehicle_id, to_at),
  KEY seat_battery (shop_id, battery_id, from_at),
  CONSTRAINT seat_battery_fk FOREIGN KEY (battery_id) REFERENCES battery (id),
  CONSTRAINT seat_vehicle_fk FOREIGN KEY (vehicle_id) REFERENCES vehicle (id)
);

CREATE TABLE job (
  id          BINARY(16)   NOT NULL PRIMARY KEY,
  shop_id     BINARY(16)   NOT NULL,
  vehicle_id  BINARY(16)   NULL,
  customer_id BINARY(16)   NULL,
  state       VARCHAR(16)  NOT NULL,
  place       VARCHAR(40)  NOT NULL,
  complaint   VARCHAR(500) NOT NULL,
  symptoms    JSON         NOT NULL,
  school      VARCHAR(32)  NOT NULL,
  opened_at   DATETIME(6)  NOT NULL,
  promised_at DATETIME(6)  NULL,
  closed_at   DATETIME(6)  NULL,
  opened_by   BINARY(16)   NOT NULL,
  revision    INT          NOT NULL,
  verdict_id  BINARY(16)   NULL,
  KEY job_state (shop_id, state, opened_at, id),
  KEY job_vehicle (shop_id, vehicle_id, opened_at),
  CONSTRAINT job_shop FOREIGN KEY (shop_id) REFERENCES shop (id),
  CONSTRAINT job_vehicle_fk FOREIGN KEY (vehicle_id) REFERENCES vehicle (id)
);

CREATE TABLE job_battery (
  job_id     BINARY(16)  NOT NULL,
  battery_id BINARY(16)  NOT NULL,
  shop_id    BINARY(16)  NOT NULL,
  ordinal    INT         NOT NULL,
  position   VARCHAR(32) NOT NULL,
  PRIMARY KEY (job_id, battery_id),
  KEY job_battery_battery (shop_id, battery_id),
  CONSTRAINT job_battery_job FOREIGN KEY (job_id) REFERENCES job (id),
  CONSTRAINT job_battery_battery_fk FOREIGN KEY (battery_id) REFERENCES battery (id)
);

-- Readings are append-only. A correction, a withdrawal and its undoing are rows
-- of their own that supersede another; root_id ties them to the first.
CREATE TABLE reading (
  id            BINARY(16)   NOT NULL PRIMARY KEY,
  shop_id       BINARY(16)   NOT NULL,
  job_id        BINARY(16)   NOT NULL,
  battery_id    BINARY(16)   NULL,
  vehicle_id    BINARY(16)   NULL,
  root_id       BINARY(16)   NOT NULL,
  supersedes_id BINARY(16)   NULL,
  ordinal       INT          NOT NULL,
  act           VARCHAR(16)  NOT NULL,
  reason        VARCHAR(300) NOT NULL,
  kind          VARCHAR(24)  NOT NULL,
  typed         VARCHAR(500) NOT NULL,
  payload       JSON         NOT NULL,
  taken_at      DATETIME(6)  NOT NULL,
  taken_zone    VARCHAR(64)  NOT NULL,
  received_at   DATETIME(6)  NOT NULL,
  person_id     BINARY(16)   NOT NULL,
  instrument    VARCHAR(60)  NOT NULL,
  UNIQUE KEY reading_supersedes (supersedes_id),
  KEY reading_job (shop_id, job_id, ordinal, received_at),
  KEY reading_battery (shop_id, battery_id, taken_at),
  KEY reading_vehicle (shop_id, vehicle_id, taken_at),
  CONSTRAINT reading_job_fk FOREIGN KEY (job_id) REFERENCES job (id)
);

CREATE TABLE verdict (
  id         BINARY(16)  NOT NULL PRIMARY KEY,
  shop_id    BINARY(16)  NOT NULL,
  job_id     BINARY(16)  NOT NULL,
  battery_id BINARY(16)  NOT NULL,
  revision   INT         NOT NULL,
  made_at    DATETIME(6) NOT NULL,
  action     VARCHAR(24)  NOT NULL,
  waits      VARCHAR(16)  NOT NULL,
  next_step  VARCHAR(500) NOT NULL,
  rules_hash VARCHAR(32) NOT NULL,
  body       JSON        NOT NULL,
  KEY verdict_job (shop_id, job_id, revision),
  KEY verdict_battery (shop_id, battery_id, made_at),
  CONSTRAINT verdict_job_fk FOREIGN KEY (job_id) REFERENCES job (id)
);

-- Written in the same transaction as every change.
CREATE TABLE event (
  id        BIGINT      NOT NULL PRIMARY KEY AUTO_INCREMENT,
  shop_id   BINARY(16)  NOT NULL,
  job_id    BINARY(16)  NULL,
  revision  INT         NOT NULL,
  person_id BINARY(16)  NULL,
  kind      VARCHAR(32) NOT NULL,
  body      JSON        NOT NULL,
  at        DATETIME(6) NOT NULL,
  KEY event_shop (shop_id, id),
  KEY event_job (shop_id, job_id, id)
);

CREATE TABLE sessions (
  token  CHAR(43)     NOT NULL PRIMARY KEY,
  data   BLOB         NOT NULL,
  expiry TIMESTAMP(6) NOT NULL,
  KEY sessions_expiry (expiry)
);

-- +goose Down
DROP TABLE sessions;
DROP TABLE event;
DROP TABLE verdict;
DROP TABLE reading;
DROP TABLE job_battery;
DROP TABLE job;
DROP TABLE battery_seat;
DROP TABLE battery;
DROP TABLE vehicle;
DROP TABLE customer;
DROP TABLE person;
DROP TABLE shop;
