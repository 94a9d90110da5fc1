CREATE TYPE "public"."note_names" AS ENUM('letters', 'solfege', 'german');--> statement-breakpoint
ALTER TABLE "players" ADD COLUMN "reach_half_steps" integer DEFAULT 15 NOT NULL;--> statement-breakpoint
ALTER TABLE "players" ADD COLUMN "note_names" "note_names" DEFAULT 'letters' NOT NULL;--> statement-breakpoint
ALTER TABLE "parts" ADD COLUMN "own_likeness" jsonb DEFAULT '{}'::jsonb NOT NULL;