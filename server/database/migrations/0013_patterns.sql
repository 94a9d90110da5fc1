CREATE TYPE "public"."practice_role" AS ENUM('song', 'drill', 'warm-up');--> statement-breakpoint
CREATE TABLE "patterns" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"owner_id" uuid NOT NULL,
	"document" jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"updated_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "songs" ADD COLUMN "role" "practice_role" DEFAULT 'song' NOT NULL;--> statement-breakpoint
ALTER TABLE "songs" ADD COLUMN "origin" jsonb DEFAULT '{"kind":"file"}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "patterns" ADD CONSTRAINT "patterns_owner_id_accounts_id_fk" FOREIGN KEY ("owner_id") REFERENCES "public"."accounts"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "patterns_by_owner" ON "patterns" USING btree ("owner_id","created_at");