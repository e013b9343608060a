-- name: AddShop :exec
INSERT INTO shop (id, name, time_zone, school, created_at) VALUES (?, ?, ?, ?, ?);

-- name: OnlyShop :one
SELECT * FROM shop ORDER BY created_at LIMIT 1;

-- name: CountPeople :one
SELECT COUNT(*) FROM person;

-- name: AddPerson :exec
INSERT INTO person (id, shop_id, name, initials, sign_in, role, password_hash, active, created_at)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: PersonBySignIn :one
SELECT * FROM person WHERE sign_in = ? AND active = 1;

-- name: PersonByID :one
SELECT * FROM person WHERE id = ?;

-- name: People :many
SELECT * FROM person WHERE shop_id = ? ORDER BY name, id LIMIT 200;

-- name: AddCustomer :exec
INSERT INTO customer (id, shop_id, name, phone, created_at) VALUES (?, ?, ?, ?, ?);

-- name: CustomerByID :one
SELECT * FROM customer WHERE shop_id = ? AND id = ?;

-- name: AddVehicle :exec
INSERT INTO vehicle (id, shop_id, customer_id, plate, description, kind, engine, litres, required_cca, start_stop, managed_charging, earth, seat, joined, created_at)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: VehicleByID :one
SELECT * FROM vehicle WHERE shop_id = ? AND id = ?;

-- name: FindVehicles :many
SELECT sqlc.embed(vehicle), COALESCE(customer.name, '') AS customer_name
FROM vehicle LEFT JOIN customer ON customer.id = vehicle.customer_id
WHERE vehicle.shop_id = ? AND (REPLACE(vehicle.plate, ' ', '') LIKE sqlc.arg(plate) OR customer.name LIKE sqlc.arg(name))
ORDER BY vehicle.plate, vehicle.id LIMIT 12;

-- name: AddBattery :exec
INSERT INTO battery (id, shop_id, tag, maker, chemistry, nominal_v, rating_value, rating_standard, capacity_ah, reserve_min, made, sealed, eye_fitted, label_load_a, full_sg, posts, created_at)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: UpdateBatteryLabel :exec
UPDATE battery SET tag = ?, maker = ?, chemistry = ?, nominal_v = ?, rating_value = ?, rating_standard = ?, capacity_ah = ?, reserve_min = ?, made = ?, sealed = ?, eye_fitted = ?, label_load_a = ?, full_sg = ?
WHERE shop_id = ? AND id = ?;

-- name: BatteryByID :one
SELECT * FROM battery WHERE shop_id = ? AND id = ?;

-- name: AddSeat :exec
INSERT INTO battery_seat (id, shop_id, battery_id, vehicle_id, position, from_at, to_at) VALUES (?, ?, ?, ?, ?, ?, NULL);

-- name: EndSeats :exec
UPDATE battery_seat SET to_at = ? WHERE shop_id = ? AND vehicle_id = ? AND to_at IS NULL;

-- name: BatteriesInVehicle :many
SELECT sqlc.embed(battery), battery_seat.position
FROM battery_seat JOIN battery ON battery.id = battery_seat.battery_id
WHERE battery_seat.shop_id = ? AND battery_seat.vehicle_id = ? AND battery_seat.to_at IS NULL
ORDER BY battery_seat.position, battery.id;

-- name: SeatsOfBattery :many
SELECT sqlc.embed(battery_seat), vehicle.plate, vehicle.description
FROM battery_seat JOIN vehicle ON vehicle.id = battery_seat.vehicle_id
WHERE battery_seat.shop_id = ? AND battery_seat.battery_id = ?
ORDER BY battery_seat.from_at DESC, battery_seat.id LIMIT 50;

-- name: AddJob :exec
INSERT INTO job (id, shop_id, vehicle_id, customer_id, state, place, complaint, symptoms, school, opened_at, promised_at, closed_at, opened_by, revision, verdict_id, purpose, assigned_to)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, NULL, ?, 1, NULL, ?, ?);

-- name: JobByID :one
SELECT * FROM job WHERE shop_id = ? AND id = ?;

-- name: JobForUpdate :one
SELECT * FROM job WHERE shop_id = ? AND id = ? FOR UPDATE;

-- name: BumpJob :exec
UPDATE job SET revision = ?, state = ?, closed_at = ?, verdict_id = ?, place = ?, assigned_to = ?, waits_for = ?, waits_note = ? WHERE shop_id = ? AND id = ?;

-- name: AddJobBattery :exec
INSERT INTO job_battery (job_id, battery_id, shop_id, ordinal, position) VALUES (?, ?, ?, ?, ?);

-- name: BatteriesOfJob :many
SELECT sqlc.embed(battery), job_battery.position,
  (SELECT COUNT(*) FROM job_battery AS every_job WHERE every_job.shop_id = job_battery.shop_id AND every_job.battery_id = battery.id) AS jobs
FROM job_battery JOIN battery ON battery.id = job_battery.battery_id
WHERE job_battery.shop_id = ? AND job_battery.job_id = ?
ORDER BY job_battery.ordinal;

-- name: JobRows :many
SELECT sqlc.embed(job), COALESCE(vehicle.plate, '') AS plate, COALESCE(vehicle.description, '') AS description, COALESCE(customer.name, '') AS customer_name, verdict.action, verdict.waits, verdict.next_step
FROM job
LEFT JOIN vehicle ON vehicle.id = job.vehicle_id
LEFT JOIN customer ON customer.id = job.customer_id
JOIN verdict ON verdict.id = job.verdict_id
WHERE job.shop_id = ? AND job.state = ? AND (job.opened_at < sqlc.arg(before) OR (job.opened_at = sqlc.arg(before) AND job.id < sqlc.arg(before_id)))
ORDER BY job.opened_at DESC, job.id DESC LIMIT ?;

-- name: AddReading :exec
INSERT INTO reading (id, shop_id, job_id, battery_id, vehicle_id, root_id, supersedes_id, ordinal, act, reason, kind, typed, payload, taken_at, taken_zone, received_at, person_id, instrument)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: ReadingByID :one
SELECT * FROM reading WHERE shop_id = ? AND id = ?;

-- name: ReadingsOfJob :many
SELECT sqlc.embed(reading), COALESCE(person.name, '') AS person_name
FROM reading LEFT JOIN person ON person.id = reading.person_id
WHERE reading.shop_id = ? AND reading.job_id = ?
ORDER BY reading.ordinal, reading.received_at, reading.id;

-- name: ReadingsOfBattery :many
SELECT sqlc.embed(reading), COALESCE(person.name, '') AS person_name
FROM reading LEFT JOIN person ON person.id = reading.person_id
WHERE reading.shop_id = ? AND reading.battery_id = ?
ORDER BY reading.taken_at DESC, reading.id DESC LIMIT 400;

-- name: LastOrdinal :one
SELECT CAST(COALESCE(MAX(ordinal), 0) AS SIGNED) AS last FROM reading WHERE shop_id = ? AND job_id = ?;

-- name: AddVerdict :exec
INSERT INTO verdict (id, shop_id, job_id, battery_id, revision, made_at, action, waits, next_step, rules_hash, body) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: VerdictsOfBattery :many
SELECT sqlc.embed(verdict), job.opened_at, job.state
FROM verdict JOIN job ON job.id = verdict.job_id
WHERE verdict.shop_id = ? AND verdict.battery_id = ? AND verdict.revision = job.revision
ORDER BY verdict.made_at DESC LIMIT 50;

-- name: AddEvent :exec
INSERT INTO event (shop_id, job_id, revision, person_id, kind, body, at) VALUES (?, ?, ?, ?, ?, ?, ?);

-- name: EventsOfJob :many
SELECT sqlc.embed(event), COALESCE(person.name, '') AS person_name
FROM event LEFT JOIN person ON person.id = event.person_id
WHERE event.shop_id = ? AND event.job_id = ?
ORDER BY event.id DESC LIMIT 200;

-- name: ShopLimits :many
SELECT shop_limit.limit_id, shop_limit.value, shop_limit.note, shop_limit.set_at, person.name AS set_by_name
FROM shop_limit JOIN person ON person.id = shop_limit.set_by
WHERE shop_limit.shop_id = ? ORDER BY shop_limit.limit_id LIMIT 200;

-- name: SetShopLimit :exec
INSERT INTO shop_limit (shop_id, limit_id, value, note, set_by, set_at) VALUES (?, ?, ?, ?, ?, ?)
ON DUPLICATE KEY UPDATE value = VALUES(value), note = VALUES(note), set_by = VALUES(set_by), set_at = VALUES(set_at);

-- name: DropShopLimit :exec
DELETE FROM shop_limit WHERE shop_id = ? AND limit_id = ?;

-- name: EventsOfJobKind :many
SELECT sqlc.embed(event), COALESCE(person.name, '') AS person_name
FROM event LEFT JOIN person ON person.id = event.person_id
WHERE event.shop_id = ? AND event.job_id = ? AND event.kind = ? ORDER BY event.id DESC LIMIT 200;

-- name: JobsOfVehicle :many
SELECT * FROM job WHERE shop_id = ? AND vehicle_id = ? ORDER BY opened_at DESC, id DESC LIMIT 50;

-- name: SetSeat :exec
UPDATE vehicle SET seat = ?, joined = ? WHERE shop_id = ? AND id = ?;

-- name: SetPosts :exec
UPDATE battery SET posts = ? WHERE shop_id = ? AND id = ?;

-- name: LastEvent :one
SELECT CAST(COALESCE(MAX(id), 0) AS SIGNED) AS last FROM event WHERE shop_id = ?;

-- name: EventsAfter :many
SELECT id, job_id, revision, person_id, kind, at FROM event WHERE shop_id = ? AND id > ? ORDER BY id LIMIT ?;

-- name: AddClock :exec
INSERT INTO clock (id, shop_id, job_id, battery_id, kind, seconds, started_at, started_by, ended_at, outcome)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, NULL, '');

-- name: ClockByID :one
SELECT * FROM clock WHERE shop_id = ? AND id = ?;

-- name: EndClock :exec
UPDATE clock SET ended_at = ?, outcome = ? WHERE shop_id = ? AND id = ? AND ended_at IS NULL;

-- name: RunningClocks :many
SELECT sqlc.embed(clock), COALESCE(vehicle.plate, '') AS plate, COALESCE(vehicle.description, '') AS description, job.place, COALESCE(person.name, '') AS person_name
FROM clock JOIN job ON job.id = clock.job_id
LEFT JOIN vehicle ON vehicle.id = job.vehicle_id
LEFT JOIN person ON person.id = clock.started_by
WHERE clock.shop_id = ? AND clock.ended_at IS NULL ORDER BY clock.started_at, clock.id LIMIT 200;

-- name: ClocksOfJob :many
SELECT * FROM clock WHERE shop_id = ? AND job_id = ? ORDER BY started_at DESC, id DESC LIMIT 50;

-- name: AddAnswer :exec
INSERT INTO answer (id, shop_id, job_id, battery_id, code, value, note, person_id, at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: AnswersOfJob :many
SELECT sqlc.embed(answer), COALESCE(person.name, '') AS person_name
FROM answer LEFT JOIN person ON person.id = answer.person_id
WHERE answer.shop_id = ? AND answer.job_id = ? ORDER BY answer.at, answer.id;

-- name: AddClearing :exec
INSERT INTO clearing (id, shop_id, job_id, battery_id, stop, reason, last, person_id, at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: ClearingsOfJob :many
SELECT sqlc.embed(clearing), COALESCE(person.name, '') AS person_name
FROM clearing LEFT JOIN person ON person.id = clearing.person_id
WHERE clearing.shop_id = ? AND clearing.job_id = ? ORDER BY clearing.at, clearing.id;

-- name: AddPhoto :exec
INSERT INTO photo (id, shop_id, job_id, media_type, note, body, person_id, taken_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?);

-- name: PhotoByID :one
SELECT media_type, body FROM photo WHERE shop_id = ? AND id = ?;

-- name: PhotosOfJob :many
SELECT photo.id, photo.media_type, photo.note, photo.taken_at, COALESCE(person.name, '') AS person_name
FROM photo LEFT JOIN person ON person.id = photo.person_id
WHERE photo.shop_id = ? AND photo.job_id = ? ORDER BY photo.taken_at, photo.id LIMIT 60;

-- name: KeepInstrument :exec
INSERT INTO instrument (id, shop_id, name, kind, protocol, address, due_on, active, created_at) VALUES (?, ?, ?, ?, ?, ?, ?, 1, ?)
ON DUPLICATE KEY UPDATE name = VALUES(name), kind = VALUES(kind), protocol = VALUES(protocol), address = VALUES(address), due_on = VALUES(due_on), active = 1;

-- name: DropInstrument :exec
UPDATE instrument SET active = 0 WHERE shop_id = ? AND id = ?;

-- name: Instruments :many
SELECT * FROM instrument WHERE shop_id = ? AND active = 1 ORDER BY name, id LIMIT 100;
