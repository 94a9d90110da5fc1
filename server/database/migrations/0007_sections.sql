ALTER TABLE "parts" ADD COLUMN "section" text;--> statement-breakpoint
ALTER TABLE "songs" ADD COLUMN "proposal" integer DEFAULT 1 NOT NULL;