-- What schema 2 added to a shop as schema 1 kept it.
INSERT INTO shop_limit (shop_id, limit_id, value, note, set_by, set_at) VALUES (x'01900000000070008000000000000001', 'drain_most', 0.04, 'maker', x'01900000000070008000000000000002', '2026-11-02 08:00:00');
