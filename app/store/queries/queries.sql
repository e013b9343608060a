-- name: AddShop :exec
INSERT INTO shop (id, name, time_zone, school, created_at) VALUES (?, ?, ?, ?, ?);

-- name: ShopByID :one
SELECT * FROM shop WHERE id = ?;

-- name: Shops :many
SELECT * FROM shop ORDER BY created_at, id LIMIT 1000;

-- name: SetHands :exec
UPDATE shop SET hands = ? WHERE id = ?;

-- name: TouchShop :exec
UPDATE shop SET touched = touched + 1 WHERE id = ?;

-- name: AddMilestone :exec
INSERT INTO milestone (name) VALUES (?);

-- name: AddDeed :execresult
INSERT IGNORE INTO deed (id, shop_id, kind, subject, person_id, body, answer, at) VALUES (?, ?, ?, ?, ?, ?, '', ?);

-- name: DeedByID :one
SELECT deed.*, COALESCE(person.name, '') AS person_name
FROM deed LEFT JOIN person ON person.id = deed.person_id WHERE deed.id = ? LOCK IN SHARE MODE;

-- name: AnswerDeed :exec
UPDATE deed SET answer = ? WHERE id = ?;

-- name: CountPeople :one
SELECT COUNT(*) FROM person;

-- name: AddPerson :exec
INSERT INTO person (id, shop_id, name, initials, sign_in, role, password_hash, active, created_at)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: PersonBySignIn :one
SELECT * FROM person WHERE sign_in = ? AND active = 1;

-- name: PersonByID :one
SELECT * FROM person WHERE shop_id = ? AND id = ?;

-- name: ChangePerson :exec
UPDATE person SET name = ?, initials = ?, role = ?, active = ? WHERE shop_id = ? AND id = ?;

-- name: OwnersForUpdate :many
SELECT id FROM person WHERE shop_id = ? AND role = 'owner' AND active = 1 ORDER BY id FOR UPDATE;

-- name: SetPassword :exec
UPDATE person SET password_hash = ? WHERE shop_id = ? AND id = ?;

-- name: SetSecond :exec
UPDATE person SET second_secret = ?, second_step = ?, second_last = 0 WHERE shop_id = ? AND id = ?;

-- name: UseSecondStep :execrows
UPDATE person SET second_last = sqlc.arg(step) WHERE shop_id = sqlc.arg(shop) AND id = sqlc.arg(id) AND (second_last < sqlc.arg(step) OR second_last > sqlc.arg(latest));

-- name: MakeSealKey :exec
UPDATE person SET seal_key = ? WHERE shop_id = ? AND id = ? AND seal_key = '';

-- name: SealKey :one
SELECT seal_key FROM person WHERE shop_id = ? AND id = ?;

-- name: AddSession :exec
INSERT INTO signed_in (id, shop_id, person_id, begun_at, seen_at, ended_at, address, device) VALUES (?, ?, ?, ?, ?, NULL, ?, ?);

-- name: SessionByID :one
SELECT sqlc.embed(signed_in), sqlc.embed(person) FROM signed_in JOIN person ON person.id = signed_in.person_id WHERE signed_in.id = ?;

-- name: SeeSession :exec
UPDATE signed_in SET seen_at = sqlc.arg(at), begun_at = LEAST(begun_at, sqlc.arg(at)) WHERE id = sqlc.arg(id) AND seen_at <> sqlc.arg(at);

-- name: SessionsOfPerson :many
SELECT * FROM signed_in WHERE shop_id = ? AND person_id = ? AND ended_at IS NULL ORDER BY seen_at DESC, id DESC LIMIT 100;

-- name: EndSession :exec
UPDATE signed_in SET ended_at = ? WHERE shop_id = ? AND person_id = ? AND id = ? AND ended_at IS NULL;

-- name: EndSessionsBut :exec
UPDATE signed_in SET ended_at = ? WHERE shop_id = ? AND person_id = ? AND id <> ? AND ended_at IS NULL;

-- name: KnowDevice :exec
INSERT INTO known_device (hash, person_id, shop_id, seen_at) VALUES (?, ?, ?, ?) ON DUPLICATE KEY UPDATE seen_at = VALUES(seen_at);

-- name: KnownDevice :one
SELECT COUNT(*) FROM known_device WHERE hash = ? AND person_id = ?;

-- name: ForgetDevices :exec
DELETE FROM known_device WHERE shop_id = ? AND person_id = ?;

-- name: SweepDevices :exec
DELETE FROM known_device WHERE seen_at < ? LIMIT 1000;

-- name: SweepSessions :exec
DELETE FROM signed_in WHERE seen_at < ? LIMIT 1000;

-- name: SweepTokens :exec
DELETE FROM sessions WHERE expiry < ? LIMIT 1000;

-- name: Guard :one
SELECT * FROM sign_in_guard WHERE subject = ?;

-- name: GuardForUpdate :one
SELECT * FROM sign_in_guard WHERE subject = ? FOR UPDATE;

-- name: KeepGuard :exec
INSERT INTO sign_in_guard (subject, failures, last_at) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE failures = VALUES(failures), last_at = VALUES(last_at);

-- name: DropGuard :exec
DELETE FROM sign_in_guard WHERE subject = ?;

-- name: SweepGuards :exec
DELETE FROM sign_in_guard WHERE last_at < ? LIMIT 1000;

-- name: KeepResetCode :exec
INSERT INTO reset_code (person_id, shop_id, hash, until_at) VALUES (?, ?, ?, ?) ON DUPLICATE KEY UPDATE hash = VALUES(hash), until_at = VALUES(until_at);

-- name: ResetCode :one
SELECT hash FROM reset_code WHERE shop_id = ? AND person_id = ? AND until_at > ?;

-- name: UseResetCode :execrows
DELETE FROM reset_code WHERE shop_id = ? AND person_id = ? AND hash = ?;

-- name: AddRecoveryCode :exec
INSERT INTO recovery_code (person_id, hash, shop_id, used_at) VALUES (?, ?, ?, NULL);

-- name: DropRecoveryCodes :exec
DELETE FROM recovery_code WHERE shop_id = ? AND person_id = ?;

-- name: UseRecoveryCode :execrows
UPDATE recovery_code SET used_at = ? WHERE shop_id = ? AND person_id = ? AND hash = ? AND used_at IS NULL;

-- name: People :many
SELECT * FROM person WHERE shop_id = ? ORDER BY name, id LIMIT 200;

-- name: AddCustomer :exec
INSERT INTO customer (id, shop_id, name, phone, created_at) VALUES (?, ?, ?, ?, ?);

-- name: CustomerByID :one
SELECT * FROM customer WHERE shop_id = ? AND id = ?;

-- name: AddVehicle :exec
INSERT INTO vehicle (id, shop_id, customer_id, plate, description, kind, engine, litres, required_cca, start_stop, managed_charging, cranks_12v, system_v, earth, tray, joined, created_at)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: VehicleByID :one
SELECT * FROM vehicle WHERE shop_id = ? AND id = ?;

-- name: UpdateVehicle :exec
UPDATE vehicle SET plate = ?, description = ?, kind = ?, engine = ?, litres = ?, required_cca = ?, start_stop = ?, managed_charging = ?, cranks_12v = ?, system_v = ?, earth = ?, tray = ?, joined = ?
WHERE shop_id = ? AND id = ?;

-- name: VehiclesByPlate :many
SELECT sqlc.embed(vehicle), COALESCE(customer.name, '') AS customer_name
FROM vehicle LEFT JOIN customer ON customer.id = vehicle.customer_id
WHERE vehicle.shop_id = ? AND vehicle.plate_plain LIKE ?
ORDER BY vehicle.plate_plain, vehicle.id LIMIT 12;

-- name: VehiclesByCustomer :many
SELECT sqlc.embed(vehicle), customer.name AS customer_name
FROM customer JOIN vehicle ON vehicle.shop_id = customer.shop_id AND vehicle.customer_id = customer.id
WHERE customer.shop_id = ? AND customer.name LIKE ?
ORDER BY vehicle.plate_plain, vehicle.id LIMIT 12;

-- name: AddBattery :exec
INSERT INTO battery (id, shop_id, tag, maker, chemistry, nominal_v, rating_value, rating_standard, capacity_ah, reserve_min, made, sealed, eye_fitted, label_load_a, full_sg, deep_cycle, plates, posts, created_at)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: UpdateBatteryLabel :exec
UPDATE battery SET tag = ?, maker = ?, chemistry = ?, nominal_v = ?, rating_value = ?, rating_standard = ?, capacity_ah = ?, reserve_min = ?, made = ?, sealed = ?, eye_fitted = ?, label_load_a = ?, full_sg = ?, deep_cycle = ?, plates = ?
WHERE shop_id = ? AND id = ?;

-- name: BatteryByID :one
SELECT * FROM battery WHERE shop_id = ? AND id = ?;

-- name: SetPosts :exec
UPDATE battery SET posts = ? WHERE shop_id = ? AND id = ?;

-- name: AddInstallation :exec
INSERT INTO installation (id, shop_id, battery_id, vehicle_id, position, from_at, to_at) VALUES (?, ?, ?, ?, ?, ?, NULL);

-- name: EndInstallation :exec
UPDATE installation SET to_at = ? WHERE shop_id = ? AND id = ? AND to_at IS NULL;

-- name: InstalledNow :many
SELECT * FROM installation WHERE shop_id = ? AND to_at IS NULL AND (vehicle_id = ? OR battery_id = ?) ORDER BY from_at, id FOR UPDATE;

-- name: BatteriesInVehicles :many
SELECT sqlc.embed(battery), installation.position, installation.vehicle_id
FROM installation JOIN battery ON battery.id = installation.battery_id
WHERE installation.shop_id = ? AND installation.vehicle_id IN (sqlc.slice(vehicles)) AND installation.to_at IS NULL
ORDER BY installation.position, installation.from_at, battery.id;

-- name: InstallationsOfBattery :many
SELECT sqlc.embed(installation), vehicle.plate, vehicle.description
FROM installation JOIN vehicle ON vehicle.id = installation.vehicle_id
WHERE installation.shop_id = ? AND installation.battery_id = ?
ORDER BY installation.from_at DESC, installation.id DESC LIMIT 50;

-- name: AddPlace :exec
INSERT INTO place (id, shop_id, name, name_folded, kind, indoors, watts, room_m3, air_m3h, ordinal, active, created_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, 1, ?);

-- name: ChangePlace :exec
UPDATE place SET name = ?, name_folded = ?, kind = ?, indoors = ?, watts = ?, room_m3 = ?, air_m3h = ?, ordinal = ?, active = 1 WHERE shop_id = ? AND id = ?;

-- name: DropPlace :exec
UPDATE place SET active = NULL WHERE shop_id = ? AND id = ?;

-- name: Places :many
SELECT * FROM place WHERE shop_id = ? AND active = 1 ORDER BY ordinal, name, id LIMIT 200;

-- name: AddCharger :exec
INSERT INTO charger (id, shop_id, name, name_folded, kind, amps, volts, settings, wake_v, compensates, place_id, channels, active, created_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, 1, ?);

-- name: ChangeCharger :exec
UPDATE charger SET name = ?, name_folded = ?, kind = ?, amps = ?, volts = ?, settings = ?, wake_v = ?, compensates = ?, place_id = ?, channels = ?, active = 1 WHERE shop_id = ? AND id = ?;

-- name: DropCharger :exec
UPDATE charger SET active = NULL WHERE shop_id = ? AND id = ?;

-- name: AddCharge :exec
INSERT INTO charge (id, shop_id, battery_id, job_id, chalk, goal, ready_by, weight, asked_at, charger_id, channel, on_at, off_at, pin_charger_id, pin_channel, pin_from, open)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: UpdateCharge :exec
UPDATE charge SET goal = ?, ready_by = ?, weight = ?, charger_id = ?, channel = ?, on_at = ?, off_at = ?, pin_charger_id = ?, pin_channel = ?, pin_from = ?, open = ? WHERE shop_id = ? AND id = ?;

-- name: OpenCharges :many
SELECT * FROM charge WHERE shop_id = ? AND open = 1 ORDER BY chalk LIMIT 300;

-- name: Charge :one
SELECT * FROM charge WHERE shop_id = ? AND id = ?;

-- name: ChargeForUpdate :one
SELECT * FROM charge WHERE shop_id = ? AND id = ? FOR UPDATE;

-- name: ChargesOfJob :many
SELECT * FROM charge WHERE shop_id = ? AND job_id = ? ORDER BY asked_at, id LIMIT 100;

-- name: FollowCharge :exec
INSERT INTO trace (charge_id, shop_id, instrument_id, person_id, followed, points) VALUES (?, ?, ?, ?, 1, '')
ON DUPLICATE KEY UPDATE instrument_id = VALUES(instrument_id), person_id = VALUES(person_id), followed = 1, trouble = '';

-- name: LeaveCharge :exec
UPDATE trace SET followed = 0 WHERE shop_id = ? AND charge_id = ?;

-- name: Trace :one
SELECT * FROM trace WHERE shop_id = ? AND charge_id = ?;

-- name: FollowedTraces :many
SELECT charge_id, shop_id, instrument_id, person_id, checked_at FROM trace WHERE followed = 1 ORDER BY charge_id LIMIT 300;

-- name: HoldTrace :execrows
UPDATE trace SET holder = sqlc.arg(me), held_until = sqlc.arg(till) WHERE charge_id = sqlc.arg(id) AND followed = 1 AND (holder IS NULL OR holder = sqlc.arg(me) OR held_until < sqlc.arg(at) OR held_until > sqlc.arg(latest));

-- name: KeepTrace :exec
UPDATE trace SET points = ?, trouble = ?, checked_at = ? WHERE charge_id = ? AND holder = ?;

-- name: SetMakerCharge :exec
INSERT INTO maker_charge (battery_id, shop_id, volts, amps, charger) VALUES (?, ?, ?, ?, ?)
ON DUPLICATE KEY UPDATE volts = VALUES(volts), amps = VALUES(amps), charger = VALUES(charger);

-- name: MakerCharge :one
SELECT * FROM maker_charge WHERE shop_id = ? AND battery_id = ?;

-- name: Chargers :many
SELECT * FROM charger WHERE shop_id = ? AND active = 1 ORDER BY name, id LIMIT 200;

-- name: AddStay :exec
INSERT INTO stay (id, shop_id, battery_id, vehicle_id, place_id, from_at, to_at, purpose, job_id) VALUES (?, ?, ?, ?, ?, ?, NULL, ?, ?);

-- name: EndStaysOfJob :exec
UPDATE stay SET to_at = GREATEST(sqlc.arg(at), from_at) WHERE shop_id = sqlc.arg(shop) AND job_id = sqlc.arg(subject) AND to_at IS NULL;

-- name: EndStaysOfBattery :exec
UPDATE stay SET to_at = GREATEST(sqlc.arg(at), from_at) WHERE shop_id = sqlc.arg(shop) AND battery_id = sqlc.arg(subject) AND to_at IS NULL;

-- name: EndStaysOfVehicle :exec
UPDATE stay SET to_at = GREATEST(sqlc.arg(at), from_at) WHERE shop_id = sqlc.arg(shop) AND vehicle_id = sqlc.arg(subject) AND to_at IS NULL;

-- name: StaysAt :many
SELECT * FROM stay WHERE shop_id = ? AND place_id = ? AND to_at IS NULL ORDER BY from_at, id LIMIT 200;

-- name: StaysOfBattery :many
SELECT * FROM stay WHERE shop_id = ? AND battery_id = ? ORDER BY from_at DESC, id DESC LIMIT 100;

-- name: StaysOfVehicle :many
SELECT * FROM stay WHERE shop_id = ? AND vehicle_id = ? ORDER BY from_at DESC, id DESC LIMIT 100;

-- name: AddJob :exec
INSERT INTO job (id, shop_id, vehicle_id, customer_id, state, place_id, complaint, symptoms, school, opened_at, promised_at, closed_at, opened_by, revision, purpose, assigned_to)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, NULL, ?, 1, ?, ?);

-- name: JobByID :one
SELECT sqlc.embed(job), COALESCE(place.name, '') AS place FROM job LEFT JOIN place ON place.id = job.place_id WHERE job.shop_id = ? AND job.id = ?;

-- name: JobForUpdate :one
SELECT sqlc.embed(job), COALESCE(place.name, '') AS place FROM job LEFT JOIN place ON place.id = job.place_id WHERE job.shop_id = ? AND job.id = ? FOR UPDATE;

-- name: UpdateJob :exec
UPDATE job SET revision = ?, state = ?, closed_at = ?, place_id = ?, assigned_to = ?, waits_for = ?, waits_note = ?, touched = touched + 1 WHERE shop_id = ? AND id = ?;

-- name: TouchJobsOfBattery :exec
UPDATE job JOIN job_battery ON job_battery.job_id = job.id LEFT JOIN job_state ON job_state.job_id = job.id SET job.touched = job.touched + 1, job_state.basis = '' WHERE job.shop_id = ? AND job_battery.battery_id = ?;

-- name: TouchJobsOfVehicle :exec
UPDATE job LEFT JOIN job_state ON job_state.job_id = job.id SET job.touched = job.touched + 1, job_state.basis = '' WHERE job.shop_id = ? AND job.vehicle_id = ?;

-- name: Stamps :one
SELECT shop.touched AS shop_touched, job.touched AS job_touched,
  CAST(COALESCE((SELECT event.id FROM event WHERE event.shop_id = job.shop_id AND event.job_id = job.id ORDER BY event.id DESC LIMIT 1), 0) AS SIGNED) AS last_event
FROM job JOIN shop ON shop.id = job.shop_id WHERE job.shop_id = ? AND job.id = ?;

-- name: AddJobBattery :exec
INSERT INTO job_battery (job_id, battery_id, shop_id, ordinal, position) VALUES (?, ?, ?, ?, ?);

-- name: BatteriesOfJob :many
SELECT sqlc.embed(battery), job_battery.position,
  (SELECT COUNT(*) FROM job_battery AS every_job WHERE every_job.shop_id = job_battery.shop_id AND every_job.battery_id = battery.id) AS jobs
FROM job_battery JOIN battery ON battery.id = job_battery.battery_id
WHERE job_battery.shop_id = ? AND job_battery.job_id = ?
ORDER BY job_battery.ordinal;

-- name: OpenRows :many
SELECT sqlc.embed(job), sqlc.embed(job_state), COALESCE(place.name, '') AS place, COALESCE(vehicle.plate, '') AS plate, COALESCE(vehicle.description, '') AS description, COALESCE(customer.name, '') AS customer_name
FROM job
JOIN job_state ON job_state.job_id = job.id
LEFT JOIN place ON place.id = job.place_id
LEFT JOIN vehicle ON vehicle.id = job.vehicle_id
LEFT JOIN customer ON customer.id = job.customer_id
WHERE job.shop_id = ? AND job.state = 'open' AND (job.opened_at < sqlc.arg(before) OR (job.opened_at = sqlc.arg(before) AND job.id < sqlc.arg(before_id)))
ORDER BY job.opened_at DESC, job.id DESC LIMIT ?;

-- name: ClosedRows :many
SELECT sqlc.embed(job), sqlc.embed(job_state), COALESCE(place.name, '') AS place, COALESCE(vehicle.plate, '') AS plate, COALESCE(vehicle.description, '') AS description, COALESCE(customer.name, '') AS customer_name
FROM job
JOIN job_state ON job_state.job_id = job.id
LEFT JOIN place ON place.id = job.place_id
LEFT JOIN vehicle ON vehicle.id = job.vehicle_id
LEFT JOIN customer ON customer.id = job.customer_id
WHERE job.shop_id = ? AND job.state = 'closed' AND job.closed_at >= ?
ORDER BY job.closed_at DESC, job.id DESC LIMIT ?;

-- name: PutJobState :exec
INSERT INTO job_state (job_id, shop_id, revision, basis, battery_id, batteries, action, waits, next_step, made_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
ON DUPLICATE KEY UPDATE revision = VALUES(revision), basis = VALUES(basis), battery_id = VALUES(battery_id), batteries = VALUES(batteries), action = VALUES(action), waits = VALUES(waits), next_step = VALUES(next_step), made_at = VALUES(made_at);

-- name: LatestJob :one
SELECT id FROM job WHERE shop_id = ? ORDER BY opened_at DESC, id DESC LIMIT 1;

-- name: JobsOfVehicle :many
SELECT sqlc.embed(job), COALESCE(place.name, '') AS place FROM job LEFT JOIN place ON place.id = job.place_id WHERE job.shop_id = ? AND job.vehicle_id = ? ORDER BY job.opened_at DESC, job.id DESC LIMIT 50;

-- name: JobsOfBattery :many
SELECT sqlc.embed(job), COALESCE(place.name, '') AS place
FROM job_battery JOIN job ON job.id = job_battery.job_id LEFT JOIN place ON place.id = job.place_id
WHERE job_battery.shop_id = ? AND job_battery.battery_id = ? ORDER BY job.opened_at DESC, job.id DESC LIMIT 50;

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

-- name: ReadingsOfJobs :many
SELECT sqlc.embed(reading), COALESCE(person.name, '') AS person_name
FROM reading LEFT JOIN person ON person.id = reading.person_id
WHERE reading.shop_id = ? AND reading.job_id IN (sqlc.slice(jobs))
ORDER BY reading.ordinal, reading.received_at, reading.id;

-- name: LooseReadings :many
SELECT sqlc.embed(reading), COALESCE(person.name, '') AS person_name
FROM reading LEFT JOIN person ON person.id = reading.person_id
WHERE reading.shop_id = ? AND reading.battery_id = ? AND reading.job_id IS NULL
ORDER BY reading.ordinal, reading.received_at, reading.id LIMIT 2000;

-- name: AddVerdict :exec
INSERT INTO verdict (id, shop_id, job_id, battery_id, revision, made_at, action, rules_hash, body) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: VerdictsOfBattery :many
SELECT verdict.id, verdict.job_id, verdict.revision, verdict.made_at, verdict.rules_hash, verdict.body
FROM verdict JOIN job ON job.id = verdict.job_id
WHERE verdict.shop_id = ? AND verdict.battery_id = ? AND verdict.revision = job.revision AND verdict.whole = 1
ORDER BY verdict.made_at DESC LIMIT 50;

-- name: AddEvent :exec
INSERT INTO event (shop_id, job_id, revision, person_id, kind, body, at) VALUES (?, ?, ?, ?, ?, ?, ?);

-- name: EventsOfJob :many
SELECT sqlc.embed(event), COALESCE(person.name, '') AS person_name
FROM event LEFT JOIN person ON person.id = event.person_id
WHERE event.shop_id = ? AND event.job_id = ?
ORDER BY event.id DESC LIMIT 200;

-- name: EventsOfJobKind :many
SELECT sqlc.embed(event), COALESCE(person.name, '') AS person_name
FROM event LEFT JOIN person ON person.id = event.person_id
WHERE event.shop_id = ? AND event.job_id = ? AND event.kind = ? ORDER BY event.id DESC LIMIT 200;

-- name: LastEvent :one
SELECT CAST(COALESCE(MAX(id), 0) AS SIGNED) AS last FROM event;

-- name: EventsAfter :many
SELECT id, shop_id, job_id, revision, person_id, kind, at FROM event WHERE id > ? ORDER BY id LIMIT ?;

-- name: ShopLimits :many
SELECT shop_limit.limit_id, shop_limit.value, shop_limit.note, shop_limit.set_at, person.name AS set_by_name
FROM shop_limit JOIN person ON person.id = shop_limit.set_by
WHERE shop_limit.shop_id = ? ORDER BY shop_limit.limit_id LIMIT 200;

-- name: SetShopLimit :exec
INSERT INTO shop_limit (shop_id, limit_id, value, note, set_by, set_at) VALUES (?, ?, ?, ?, ?, ?)
ON DUPLICATE KEY UPDATE value = VALUES(value), note = VALUES(note), set_by = VALUES(set_by), set_at = VALUES(set_at);

-- name: DropShopLimit :exec
DELETE FROM shop_limit WHERE shop_id = ? AND limit_id = ?;

-- name: AddClock :exec
INSERT INTO clock (id, shop_id, job_id, battery_id, vehicle_id, kind, seconds, started_at, started_by, ended_at, outcome)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, NULL, '');

-- name: ClockByID :one
SELECT * FROM clock WHERE shop_id = ? AND id = ?;

-- name: EndClock :exec
UPDATE clock SET ended_at = ?, outcome = ? WHERE shop_id = ? AND id = ? AND ended_at IS NULL;

-- name: RestartClock :exec
UPDATE clock SET started_at = ? WHERE shop_id = ? AND id = ? AND ended_at IS NULL;

-- name: RunningClocks :many
SELECT sqlc.embed(clock), COALESCE(vehicle.plate, '') AS plate, COALESCE(vehicle.description, battery.tag, '') AS description, COALESCE(place.name, '') AS place, COALESCE(person.name, '') AS person_name
FROM clock LEFT JOIN job ON job.id = clock.job_id
LEFT JOIN place ON place.id = job.place_id
LEFT JOIN vehicle ON vehicle.id = COALESCE(job.vehicle_id, clock.vehicle_id)
LEFT JOIN battery ON battery.id = clock.battery_id
LEFT JOIN person ON person.id = clock.started_by
WHERE clock.shop_id = ? AND clock.ended_at IS NULL ORDER BY clock.started_at DESC, clock.id DESC LIMIT 500;

-- name: ClocksOfJob :many
SELECT * FROM clock WHERE shop_id = ? AND job_id = ? AND ended_at IS NULL ORDER BY started_at DESC, id DESC;

-- name: AddAnswer :exec
INSERT INTO answer (id, shop_id, job_id, battery_id, vehicle_id, code, value, note, person_id, at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: AnswersOfJob :many
SELECT sqlc.embed(answer), COALESCE(person.name, '') AS person_name
FROM answer LEFT JOIN person ON person.id = answer.person_id
WHERE answer.shop_id = ? AND answer.job_id = ? ORDER BY answer.at, answer.id;

-- name: AddClearing :exec
INSERT INTO clearing (id, shop_id, job_id, battery_id, stop, reason, last, readings, revision, person_id, at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: ClearingsOfJob :many
SELECT sqlc.embed(clearing), COALESCE(person.name, '') AS person_name
FROM clearing LEFT JOIN person ON person.id = clearing.person_id
WHERE clearing.shop_id = ? AND clearing.job_id = ? ORDER BY clearing.at, clearing.id;

-- name: AddPhoto :exec
INSERT INTO photo (id, shop_id, job_id, battery_id, vehicle_id, media_type, note, body, person_id, taken_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: PhotoByID :one
SELECT media_type, body FROM photo WHERE shop_id = ? AND id = ?;

-- name: CountPhotos :one
SELECT COUNT(*) FROM photo WHERE shop_id = ? AND job_id = ?;

-- name: PhotosOfJob :many
SELECT photo.id, photo.media_type, photo.note, photo.taken_at, COALESCE(person.name, '') AS person_name
FROM photo LEFT JOIN person ON person.id = photo.person_id
WHERE photo.shop_id = ? AND photo.job_id = ? ORDER BY photo.taken_at, photo.id LIMIT 200;

-- name: KeepInstrument :exec
INSERT INTO instrument (id, shop_id, name, kind, protocol, address, due_on, active, created_at) VALUES (?, ?, ?, ?, ?, ?, ?, 1, ?)
ON DUPLICATE KEY UPDATE name = VALUES(name), kind = VALUES(kind), protocol = VALUES(protocol), address = VALUES(address), due_on = VALUES(due_on), active = 1;

-- name: DropInstrument :exec
UPDATE instrument SET active = 0 WHERE shop_id = ? AND id = ?;

-- name: Instruments :many
SELECT * FROM instrument WHERE shop_id = ? AND active = 1 ORDER BY name, id LIMIT 100;

-- name: AddAttempt :exec
INSERT INTO attempt (id, shop_id, job_id, battery_id, person_id, name, setting, school, people, minutes, begun_at, order_hash) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: Attempt :one
SELECT sqlc.embed(attempt), COALESCE(person.name, '') AS person_name
FROM attempt LEFT JOIN person ON person.id = attempt.person_id
WHERE attempt.shop_id = ? AND attempt.id = ?;

-- name: AttemptsOfJob :many
SELECT sqlc.embed(attempt), COALESCE(person.name, '') AS person_name
FROM attempt LEFT JOIN person ON person.id = attempt.person_id
WHERE attempt.shop_id = ? AND attempt.job_id = ? ORDER BY attempt.begun_at DESC, attempt.id DESC;

-- name: AddAttemptEvent :exec
INSERT INTO attempt_event (id, shop_id, attempt_id, person_id, step, did, note, at, received_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: AttemptEvents :many
SELECT sqlc.embed(attempt_event), COALESCE(person.name, '') AS person_name
FROM attempt_event LEFT JOIN person ON person.id = attempt_event.person_id
WHERE attempt_event.shop_id = ? AND attempt_event.attempt_id = ? ORDER BY attempt_event.place;

-- name: AttemptEventsOfJob :many
SELECT sqlc.embed(attempt_event), COALESCE(person.name, '') AS person_name
FROM attempt_event JOIN attempt ON attempt.id = attempt_event.attempt_id LEFT JOIN person ON person.id = attempt_event.person_id
WHERE attempt.shop_id = ? AND attempt.job_id = ? ORDER BY attempt_event.place;

-- name: KeepOutside :exec
INSERT INTO battery_outside (battery_id, shop_id, body) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE body = VALUES(body);

-- name: Outside :one
SELECT body FROM battery_outside WHERE shop_id = ? AND battery_id = ?;

-- name: KeepWants :exec
INSERT INTO vehicle_wants (vehicle_id, shop_id, wants) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE wants = VALUES(wants);

-- name: Wants :one
SELECT wants FROM vehicle_wants WHERE shop_id = ? AND vehicle_id = ?;

-- name: KeepStock :exec
INSERT INTO stock (battery_id, shop_id, place_id, price_minor, charged_on, used, came_at, gone_at, gone_how, here) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
ON DUPLICATE KEY UPDATE place_id = VALUES(place_id), price_minor = VALUES(price_minor), charged_on = VALUES(charged_on), used = VALUES(used), gone_at = VALUES(gone_at), gone_how = VALUES(gone_how), here = VALUES(here);

-- name: LeaveStock :execrows
UPDATE stock SET gone_at = ?, gone_how = ?, here = NULL WHERE shop_id = ? AND battery_id = ? AND here = 1;

-- name: StockRow :one
SELECT sqlc.embed(stock), sqlc.embed(battery), COALESCE(place.name, '') AS place, COALESCE(battery_outside.body, '') AS body
FROM stock JOIN battery ON battery.id = stock.battery_id
LEFT JOIN place ON place.id = stock.place_id LEFT JOIN battery_outside ON battery_outside.battery_id = stock.battery_id
WHERE stock.shop_id = ? AND stock.battery_id = ?;

-- name: StockHere :many
SELECT sqlc.embed(stock), sqlc.embed(battery), COALESCE(place.name, '') AS place, COALESCE(battery_outside.body, '') AS body
FROM stock JOIN battery ON battery.id = stock.battery_id
LEFT JOIN place ON place.id = stock.place_id LEFT JOIN battery_outside ON battery_outside.battery_id = stock.battery_id
WHERE stock.shop_id = ? AND stock.here = 1 ORDER BY stock.came_at, stock.battery_id LIMIT 5000;

-- name: AddReplacement :exec
INSERT INTO replacement (id, shop_id, job_id, old_id, new_id, goes, deposit, warranty_until, person_id, at, back_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, NULL);

-- name: TakeBackReplacement :exec
UPDATE replacement SET back_at = ? WHERE shop_id = ? AND id = ?;

-- name: ReplacementsOfJob :many
SELECT sqlc.embed(replacement), battery.tag, battery.maker, COALESCE(person.name, '') AS person_name
FROM replacement JOIN battery ON battery.id = replacement.new_id LEFT JOIN person ON person.id = replacement.person_id
WHERE replacement.shop_id = ? AND replacement.job_id = ? AND replacement.back_at IS NULL ORDER BY replacement.at, replacement.id;

-- name: ReplacementsOfBattery :many
SELECT sqlc.embed(replacement), battery.tag, battery.maker, COALESCE(person.name, '') AS person_name
FROM replacement JOIN battery ON battery.id = replacement.new_id LEFT JOIN person ON person.id = replacement.person_id
WHERE replacement.shop_id = ? AND (replacement.old_id = ? OR replacement.new_id = ?) AND replacement.back_at IS NULL ORDER BY replacement.at, replacement.id;

-- name: Climate :one
SELECT climate FROM shop WHERE id = ?;

-- name: KeepClimate :exec
UPDATE shop SET climate = ?, touched = touched + 1 WHERE id = ?;

-- name: AddStanding :exec
INSERT INTO standing (id, shop_id, battery_id, vehicle_id, place_id, from_at, to_at, open, said, seen_at, revision, changed_at, basis, forecast)
VALUES (?, ?, ?, ?, ?, ?, NULL, 1, ?, ?, 1, ?, '', '');

-- name: ChangeStanding :exec
UPDATE standing SET place_id = ?, said = ?, seen_at = ?, to_at = ?, open = ?, revision = revision + 1, changed_at = ? WHERE shop_id = ? AND id = ?;

-- name: KeepForecast :exec
UPDATE standing SET basis = ?, forecast = ? WHERE shop_id = ? AND id = ? AND revision = ?;

-- name: StandingByID :one
SELECT sqlc.embed(standing), sqlc.embed(battery), COALESCE(place.name, '') AS place, COALESCE(vehicle.plate, '') AS plate,
  COALESCE(vehicle.description, '') AS description, COALESCE(vehicle.kind, '') AS kind, COALESCE(vehicle.engine, '') AS engine, vehicle.litres, vehicle.cranks_12v,
  COALESCE(vehicle.earth, '') AS earth, COALESCE(customer.name, '') AS customer,
  CAST((SELECT COUNT(*) FROM reading WHERE reading.shop_id = standing.shop_id AND reading.battery_id = standing.battery_id) AS SIGNED) AS readings
FROM standing JOIN battery ON battery.id = standing.battery_id LEFT JOIN place ON place.id = standing.place_id
LEFT JOIN vehicle ON vehicle.id = standing.vehicle_id LEFT JOIN customer ON customer.id = vehicle.customer_id
WHERE standing.shop_id = ? AND standing.id = ?;

-- name: StandingLocked :one
SELECT id FROM standing WHERE shop_id = ? AND id = ? FOR UPDATE;

-- name: StandingNow :many
SELECT sqlc.embed(standing), sqlc.embed(battery), COALESCE(place.name, '') AS place, COALESCE(vehicle.plate, '') AS plate,
  COALESCE(vehicle.description, '') AS description, COALESCE(vehicle.kind, '') AS kind, COALESCE(vehicle.engine, '') AS engine, vehicle.litres, vehicle.cranks_12v,
  COALESCE(vehicle.earth, '') AS earth, COALESCE(customer.name, '') AS customer,
  CAST((SELECT COUNT(*) FROM reading WHERE reading.shop_id = standing.shop_id AND reading.battery_id = standing.battery_id) AS SIGNED) AS readings
FROM standing JOIN battery ON battery.id = standing.battery_id LEFT JOIN place ON place.id = standing.place_id
LEFT JOIN vehicle ON vehicle.id = standing.vehicle_id LEFT JOIN customer ON customer.id = vehicle.customer_id
WHERE standing.shop_id = ? AND standing.open = 1 ORDER BY standing.from_at, standing.id LIMIT 2000;

-- name: OpenStandingOf :many
SELECT id FROM standing WHERE shop_id = ? AND open = 1 AND battery_id = ?;

-- name: AddStandingVisit :exec
INSERT INTO standing_visit (id, shop_id, standing_id, person_id, at, received_at, typed, did, note, found, readings, mistaken) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, 0);

-- name: MistakenVisit :exec
UPDATE standing_visit SET mistaken = 1 WHERE shop_id = ? AND id = ?;

-- name: StandingVisits :many
SELECT sqlc.embed(standing_visit), COALESCE(person.name, '') AS person_name
FROM standing_visit LEFT JOIN person ON person.id = standing_visit.person_id
WHERE standing_visit.shop_id = ? AND standing_visit.standing_id = ? ORDER BY standing_visit.at DESC, standing_visit.id DESC LIMIT 200;

-- name: AddFeed :exec
INSERT INTO calendar_feed (id, shop_id, person_id, name, secret, created_at, withdrawn_at) VALUES (?, ?, ?, ?, ?, ?, NULL);

-- name: Feeds :many
SELECT sqlc.embed(calendar_feed), person.name AS person_name, person.active AS person_active
FROM calendar_feed JOIN person ON person.id = calendar_feed.person_id
WHERE calendar_feed.shop_id = ? AND calendar_feed.withdrawn_at IS NULL ORDER BY calendar_feed.created_at, calendar_feed.id LIMIT 200;

-- name: WithdrawFeed :exec
UPDATE calendar_feed SET withdrawn_at = ? WHERE shop_id = ? AND id = ? AND withdrawn_at IS NULL;

-- name: FeedBySecret :one
SELECT calendar_feed.id, calendar_feed.shop_id, calendar_feed.person_id
FROM calendar_feed JOIN person ON person.id = calendar_feed.person_id AND person.active = 1
WHERE calendar_feed.secret = ? AND calendar_feed.withdrawn_at IS NULL;

-- name: AddClaim :exec
INSERT IGNORE INTO claim (name, holder, until_at) VALUES (?, ?, ?);

-- name: TakeClaim :execrows
UPDATE claim SET holder = sqlc.arg(me), until_at = sqlc.arg(till) WHERE name = sqlc.arg(name) AND (holder = sqlc.arg(me) OR until_at < sqlc.arg(at) OR until_at > sqlc.arg(latest));

-- name: GiveClaimBack :exec
UPDATE claim SET until_at = ? WHERE name = ? AND holder = ?;

-- name: AddBackupRun :exec
INSERT INTO backup_run (id, made_at, why, host, path, bytes, row_count, seconds, trouble, schema_version) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?);

-- name: BackupRuns :many
SELECT * FROM backup_run ORDER BY made_at > sqlc.arg(now), made_at DESC, id DESC LIMIT ?;

-- name: RemoveBackupRun :exec
UPDATE backup_run SET removed_at = sqlc.arg(at) WHERE host = ? AND path = ? AND removed_at IS NULL;

-- name: SupersededVerdicts :many
SELECT shop_id, job_id, battery_id FROM verdict WHERE whole = 1 GROUP BY shop_id, job_id, battery_id HAVING COUNT(*) > 1 LIMIT ?;

-- name: VerdictsForUpdate :many
SELECT id, revision, body FROM verdict WHERE shop_id = ? AND job_id = ? AND battery_id = ? AND whole = 1 ORDER BY revision, made_at, id FOR UPDATE;

-- name: ThinVerdict :exec
UPDATE verdict SET body = 'null', past = ?, whole = 0 WHERE shop_id = ? AND id = ?;

-- name: VerdictHistory :many
SELECT * FROM verdict WHERE shop_id = ? AND job_id = ? AND battery_id = ? ORDER BY revision, made_at, id;
