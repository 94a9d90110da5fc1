CREATE TYPE "public"."strictness" AS ENUM('gentle', 'normal', 'strict');--> statement-breakpoint
ALTER TABLE "passes" ADD COLUMN "strictness" "strictness" DEFAULT 'normal' NOT NULL;--> statement-breakpoint
ALTER TABLE "passes" ADD COLUMN "keyboard_delay_ms" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "players" ADD COLUMN "strictness" "strictness" DEFAULT 'normal' NOT NULL;--> statement-breakpoint
ALTER TABLE "players" ADD COLUMN "keyboard_delay_ms" integer DEFAULT 0 NOT NULL;