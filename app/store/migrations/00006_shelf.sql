-- +goose Up
-- Charging many: channels, the air of a place, when somebody is there, and what charges.
ALTER TABLE charger ADD COLUMN IF NOT EXISTS channels INT NOT NULL DEFAULT 1;
ALTER TABLE place ADD COLUMN IF NOT EXISTS air_m3h DOUBLE NULL;
-- The hours of the week in which somebody is there, as JSON; empty for the usual ones.
ALTER TABLE shop ADD COLUMN IF NOT EXISTS hands VARCHAR(2000) NOT NULL DEFAULT '';

-- A battery that waits for a charger, is on one, or was. open is null once it is off, so
-- that its number, its battery and its channel are free.
CREATE TABLE IF NOT EXISTS charge (
  id             BINARY(16)  NOT NULL PRIMARY KEY,
  shop_id        BINARY(16)  NOT NULL,
  battery_id     BINARY(16)  NOT NULL,
  job_id         BINARY(16)  NULL,
  chalk          INT         NOT NULL,
  goal           VARCHAR(16) NOT NULL,
  ready_by       DATETIME(6) NULL,
  weight         DOUBLE      NOT NULL,
  asked_at       DATETIME(6) NOT NULL,
  charger_id     BINARY(16)  NULL,
  channel        INT         NOT NULL DEFAULT 0,
  on_at          DATETIME(6) NULL,
  off_at         DATETIME(6) NULL,
  pin_charger_id BINARY(16)  NULL,
  pin_channel    INT         NOT NULL DEFAULT 0,
  pin_from       DATETIME(6) NULL,
  open           TINYINT(1)  NULL,
  UNIQUE KEY charge_chalk (shop_id, open, chalk),
  UNIQUE KEY charge_once (shop_id, open, battery_id),
  UNIQUE KEY charge_channel (shop_id, open, charger_id, channel),
  KEY charge_battery (shop_id, battery_id, asked_at),
  KEY charge_job (shop_id, job_id, asked_at),
  CONSTRAINT charge_battery_fk FOREIGN KEY (battery_id) REFERENCES battery (id),
  CONSTRAINT charge_charger_fk FOREIGN KEY (charger_id) REFERENCES charger (id)
);

-- +goose Down
SELECT 1;
