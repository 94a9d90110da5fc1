ALTER TABLE "passes" ADD COLUMN "archive_id" uuid;--> statement-breakpoint
ALTER TABLE "parts" ADD COLUMN "archive_id" uuid;--> statement-breakpoint
ALTER TABLE "patterns" ADD COLUMN "archive_id" uuid;--> statement-breakpoint
ALTER TABLE "songs" ADD COLUMN "deleted_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "songs" ADD COLUMN "archive_id" uuid;--> statement-breakpoint
CREATE INDEX "passes_by_take" ON "passes" USING btree ("take_id");--> statement-breakpoint
ALTER TABLE "passes" ADD CONSTRAINT "passes_archive_id" UNIQUE("owner_id","archive_id");--> statement-breakpoint
ALTER TABLE "songs" ADD CONSTRAINT "songs_archive_id" UNIQUE("owner_id","archive_id");