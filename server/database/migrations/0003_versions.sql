ALTER TABLE "songs" ADD COLUMN "edition" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "songs" ADD COLUMN "version_of" uuid;--> statement-breakpoint
ALTER TABLE "songs" ADD CONSTRAINT "songs_version_of" FOREIGN KEY ("owner_id","version_of") REFERENCES "public"."songs"("owner_id","id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "songs_by_first_version" ON "songs" USING btree ("version_of");