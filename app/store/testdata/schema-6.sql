-- What schema 6 added to a shop as schema 5 kept it: a second channel, hours, and a charge that is on.
UPDATE charger SET channels = 2 WHERE id = x'01900000000070008000000000000030';
UPDATE shop SET hands = '[{"day":1,"from":"08:00","to":"17:00"}]' WHERE id = x'01900000000070008000000000000001';
INSERT INTO charge (id, shop_id, battery_id, job_id, chalk, goal, ready_by, weight, asked_at, charger_id, channel, on_at, off_at, pin_charger_id, pin_channel, pin_from, open) VALUES (x'01900000000070008000000000000040', x'01900000000070008000000000000001', x'01900000000070008000000000000010', NULL, 7, 'full', NULL, 1, '2026-11-20 08:00:00', x'01900000000070008000000000000030', 1, '2026-11-20 08:10:00', NULL, NULL, 0, NULL, 1);
