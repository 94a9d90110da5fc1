ALTER TABLE "passes" ALTER COLUMN "sentence" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "passes" ADD COLUMN "place" jsonb;--> statement-breakpoint
ALTER TABLE "passes" ADD COLUMN "clean_but" text[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "passes" ADD COLUMN "clean_before" boolean;--> statement-breakpoint
ALTER TABLE "passes" ADD COLUMN "ear" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "passes" ADD COLUMN "found" jsonb;--> statement-breakpoint
CREATE INDEX "passes_by_ear" ON "passes" USING btree ("ear");