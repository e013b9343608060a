-- +goose Up
-- What the step before took over has one place now.
DROP TABLE IF EXISTS battery_seat;
ALTER TABLE vehicle DROP COLUMN IF EXISTS seat;
ALTER TABLE job DROP COLUMN IF EXISTS place, DROP COLUMN IF EXISTS verdict_id;
-- What a job waits on follows from its verdicts, and stands in job_state.
ALTER TABLE verdict DROP COLUMN IF EXISTS waits, DROP COLUMN IF EXISTS next_step;
-- One verdict of a battery at each revision of its job; an import wrote two.
CREATE TABLE IF NOT EXISTS verdict_twice AS
SELECT verdict.id FROM verdict JOIN verdict AS later ON later.job_id = verdict.job_id AND later.battery_id = verdict.battery_id AND later.revision = verdict.revision
  AND (later.made_at > verdict.made_at OR (later.made_at = verdict.made_at AND later.id > verdict.id));
DELETE FROM verdict WHERE id IN (SELECT id FROM verdict_twice);
DROP TABLE IF EXISTS verdict_twice;
CREATE UNIQUE INDEX IF NOT EXISTS verdict_once ON verdict (job_id, battery_id, revision);

-- +goose Down
SELECT 1;
