-- From the end backward is an order of practice now, no longer a way of joining.
UPDATE "players" SET "coach" = ("coach" - 'joining') || '{"school": "backward"}'::jsonb WHERE "coach" ->> 'joining' = 'backward';
