ALTER TABLE "passes" ADD COLUMN "own_spot" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "players" ADD COLUMN "stand" jsonb DEFAULT '{}'::jsonb NOT NULL;