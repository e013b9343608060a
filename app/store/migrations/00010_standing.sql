-- +goose Up
-- The climate of the shop, by a zone's name or by its own figures; as JSON, empty for not said.
ALTER TABLE shop ADD COLUMN IF NOT EXISTS climate VARCHAR(800) NOT NULL DEFAULT '';

-- A battery that stands, in its vehicle or loose: what was said of it as JSON, and what it
-- comes to as it was forecast last. The basis says what the forecast was made of.
CREATE TABLE IF NOT EXISTS standing (
  id         BINARY(16)   NOT NULL PRIMARY KEY,
  shop_id    BINARY(16)   NOT NULL,
  battery_id BINARY(16)   NOT NULL,
  vehicle_id BINARY(16)   NULL,
  place_id   BINARY(16)   NULL,
  from_at    DATETIME(6)  NOT NULL,
  to_at      DATETIME(6)  NULL,
  open       TINYINT(1)   NULL,
  said       VARCHAR(2000) NOT NULL,
  seen_at    DATETIME(6)  NOT NULL,
  revision   INT          NOT NULL,
  changed_at DATETIME(6)  NOT NULL,
  basis      VARCHAR(32)  NOT NULL,
  forecast   MEDIUMTEXT   NOT NULL,
  UNIQUE KEY standing_once (shop_id, open, battery_id),
  KEY standing_open (shop_id, open, from_at, id),
  KEY standing_vehicle (shop_id, vehicle_id),
  CONSTRAINT standing_battery_fk FOREIGN KEY (battery_id) REFERENCES battery (id),
  CONSTRAINT standing_vehicle_fk FOREIGN KEY (vehicle_id) REFERENCES vehicle (id),
  CONSTRAINT standing_place_fk FOREIGN KEY (place_id) REFERENCES place (id)
);

-- Somebody who came to it: what was read and done, how far the forecast was off and which
-- readings were kept, as JSON. One that was a mistake stays, marked.
CREATE TABLE IF NOT EXISTS standing_visit (
  id          BINARY(16)   NOT NULL PRIMARY KEY,
  shop_id     BINARY(16)   NOT NULL,
  standing_id BINARY(16)   NOT NULL,
  person_id   BINARY(16)   NOT NULL,
  at          DATETIME(6)  NOT NULL,
  received_at DATETIME(6)  NOT NULL,
  typed       VARCHAR(500) NOT NULL,
  did         VARCHAR(16)  NOT NULL,
  note        VARCHAR(500) NOT NULL,
  found       TEXT         NOT NULL,
  readings    VARCHAR(800) NOT NULL,
  mistaken    TINYINT(1)   NOT NULL,
  KEY standing_visit_of (shop_id, standing_id, at),
  CONSTRAINT standing_visit_standing_fk FOREIGN KEY (standing_id) REFERENCES standing (id),
  CONSTRAINT standing_visit_person_fk FOREIGN KEY (person_id) REFERENCES person (id)
);

-- A calendar that is subscribed to: its secret address is kept as a hash.
CREATE TABLE IF NOT EXISTS calendar_feed (
  id           BINARY(16)  NOT NULL PRIMARY KEY,
  shop_id      BINARY(16)  NOT NULL,
  person_id    BINARY(16)  NOT NULL,
  name         VARCHAR(60) NOT NULL,
  secret       CHAR(64)    NOT NULL,
  created_at   DATETIME(6) NOT NULL,
  withdrawn_at DATETIME(6) NULL,
  UNIQUE KEY calendar_feed_secret (secret),
  KEY calendar_feed_shop (shop_id, created_at),
  CONSTRAINT calendar_feed_person_fk FOREIGN KEY (person_id) REFERENCES person (id)
);

-- +goose Down
SELECT 1;
