-- +goose Up
-- Which order an attempt was begun with: a release that writes it otherwise must not go on
-- with another step at the same place.
ALTER TABLE attempt ADD COLUMN IF NOT EXISTS order_hash VARCHAR(16) NOT NULL DEFAULT '';

-- What a battery looks like from outside, and what a vehicle wants of one: sizes, posts,
-- hold-down, vent, the maker's torque; as JSON.
CREATE TABLE IF NOT EXISTS battery_outside (
  battery_id BINARY(16)   NOT NULL PRIMARY KEY,
  shop_id    BINARY(16)   NOT NULL,
  body       VARCHAR(600) NOT NULL,
  KEY battery_outside_shop (shop_id),
  CONSTRAINT battery_outside_fk FOREIGN KEY (battery_id) REFERENCES battery (id)
);

CREATE TABLE IF NOT EXISTS vehicle_wants (
  vehicle_id BINARY(16)   NOT NULL PRIMARY KEY,
  shop_id    BINARY(16)   NOT NULL,
  wants      VARCHAR(800) NOT NULL,
  KEY vehicle_wants_shop (shop_id),
  CONSTRAINT vehicle_wants_fk FOREIGN KEY (vehicle_id) REFERENCES vehicle (id)
);

-- A battery of the shop's own, to be fitted or sold. here is null once it is gone.
CREATE TABLE IF NOT EXISTS stock (
  battery_id  BINARY(16)  NOT NULL PRIMARY KEY,
  shop_id     BINARY(16)  NOT NULL,
  place_id    BINARY(16)  NULL,
  price_minor BIGINT      NULL,
  charged_on  VARCHAR(10) NOT NULL,
  used        TINYINT(1)  NOT NULL,
  came_at     DATETIME(6) NOT NULL,
  gone_at     DATETIME(6) NULL,
  gone_how    VARCHAR(16) NOT NULL,
  here        TINYINT(1)  NULL,
  KEY stock_here (shop_id, here, came_at, battery_id),
  CONSTRAINT stock_battery_fk FOREIGN KEY (battery_id) REFERENCES battery (id),
  CONSTRAINT stock_place_fk FOREIGN KEY (place_id) REFERENCES place (id)
);

-- A battery of a job that another was fitted for. One that was taken back stays, marked.
CREATE TABLE IF NOT EXISTS replacement (
  id             BINARY(16)  NOT NULL PRIMARY KEY,
  shop_id        BINARY(16)  NOT NULL,
  job_id         BINARY(16)  NOT NULL,
  old_id         BINARY(16)  NOT NULL,
  new_id         BINARY(16)  NOT NULL,
  goes           VARCHAR(16) NOT NULL,
  deposit        VARCHAR(16) NOT NULL,
  warranty_until VARCHAR(10) NOT NULL,
  person_id      BINARY(16)  NOT NULL,
  at             DATETIME(6) NOT NULL,
  back_at        DATETIME(6) NULL,
  KEY replacement_job (shop_id, job_id, at),
  KEY replacement_old (shop_id, old_id),
  KEY replacement_new (shop_id, new_id),
  CONSTRAINT replacement_job_fk FOREIGN KEY (job_id) REFERENCES job (id),
  CONSTRAINT replacement_old_fk FOREIGN KEY (old_id) REFERENCES battery (id),
  CONSTRAINT replacement_new_fk FOREIGN KEY (new_id) REFERENCES battery (id)
);

-- +goose Down
SELECT 1;
