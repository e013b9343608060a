-- +goose Up
-- A shop's own figure for a limit, and where it is from. What it was before
-- stands in the events.
CREATE TABLE shop_limit (
  shop_id  BINARY(16)   NOT NULL,
  limit_id VARCHAR(40)  NOT NULL,
  value    DOUBLE       NOT NULL,
  note     VARCHAR(200) NOT NULL,
  set_by   BINARY(16)   NOT NULL,
  set_at   DATETIME(6)  NOT NULL,
  PRIMARY KEY (shop_id, limit_id),
  CONSTRAINT shop_limit_shop FOREIGN KEY (shop_id) REFERENCES shop (id),
  CONSTRAINT shop_limit_person FOREIGN KEY (set_by) REFERENCES person (id)
);

-- +goose Down
DROP TABLE shop_limit;
