-- +goose Up
-- What a person makes of a list follows them to every browser: columns, widths, order.
CREATE TABLE person_lists (
  person_id INTEGER NOT NULL REFERENCES people(id),
  list      TEXT NOT NULL,
  shape     TEXT NOT NULL,
  PRIMARY KEY (person_id, list)
);

-- +goose Down
DROP TABLE person_lists;
