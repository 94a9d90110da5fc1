ALTER TYPE "public"."mode" ADD VALUE 'own-time';--> statement-breakpoint
CREATE TABLE "days" (
	"owner_id" uuid NOT NULL,
	"day" date NOT NULL,
	"minutes" integer NOT NULL,
	"skipped" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"note" text DEFAULT '' NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "days_of_player" PRIMARY KEY("owner_id","day")
);
--> statement-breakpoint
ALTER TABLE "passes" ADD COLUMN "notes_key" text;--> statement-breakpoint
ALTER TABLE "passes" ADD COLUMN "failed" jsonb;--> statement-breakpoint
ALTER TABLE "passes" ADD COLUMN "remark" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "players" ADD COLUMN "coach" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "players" ADD COLUMN "session_minutes" integer DEFAULT 30 NOT NULL;--> statement-breakpoint
ALTER TABLE "players" ADD COLUMN "controls" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "players" ADD COLUMN "time_zone" text DEFAULT 'UTC' NOT NULL;--> statement-breakpoint
ALTER TABLE "songs" ADD COLUMN "target_date" date;--> statement-breakpoint
ALTER TABLE "songs" ADD COLUMN "target_share" real DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "days" ADD CONSTRAINT "days_owner_id_players_id_fk" FOREIGN KEY ("owner_id") REFERENCES "public"."players"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "passes_by_notes" ON "passes" USING btree ("owner_id","notes_key");