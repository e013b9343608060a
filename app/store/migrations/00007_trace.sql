-- +goose Up
-- What a logger saw of a charge: one record each, thinned, as JSON. held_until is until when
-- the server that reads it has it to itself.
CREATE TABLE IF NOT EXISTS trace (
  charge_id     BINARY(16)  NOT NULL PRIMARY KEY,
  shop_id       BINARY(16)  NOT NULL,
  instrument_id BINARY(16)  NOT NULL,
  person_id     BINARY(16)  NOT NULL,
  followed      TINYINT(1)  NOT NULL,
  trouble       VARCHAR(16) NOT NULL DEFAULT '',
  points        MEDIUMTEXT  NOT NULL,
  checked_at    DATETIME(6) NULL,
  holder        BINARY(16)  NULL,
  held_until    DATETIME(6) NULL,
  KEY trace_followed (followed, charge_id),
  CONSTRAINT trace_charge_fk FOREIGN KEY (charge_id) REFERENCES charge (id),
  CONSTRAINT trace_instrument_fk FOREIGN KEY (instrument_id) REFERENCES instrument (id),
  CONSTRAINT trace_person_fk FOREIGN KEY (person_id) REFERENCES person (id)
);

-- How its maker wants a battery charged that is charged by its maker's instructions alone.
CREATE TABLE IF NOT EXISTS maker_charge (
  battery_id BINARY(16)   NOT NULL PRIMARY KEY,
  shop_id    BINARY(16)   NOT NULL,
  volts      DOUBLE       NULL,
  amps       DOUBLE       NULL,
  charger    VARCHAR(120) NOT NULL,
  CONSTRAINT maker_charge_fk FOREIGN KEY (battery_id) REFERENCES battery (id)
);

-- +goose Down
SELECT 1;
