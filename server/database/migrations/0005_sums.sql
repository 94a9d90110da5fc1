CREATE TABLE "sums" (
	"owner_id" uuid NOT NULL,
	"day" date NOT NULL,
	"song_id" uuid NOT NULL,
	"part_id" uuid,
	"hands" "hands" NOT NULL,
	"notes_key" text,
	"passes" integer NOT NULL,
	"clean" integer NOT NULL,
	"length_ms" bigint NOT NULL,
	"unsteadiness_ms" real NOT NULL,
	"steady_passes" integer NOT NULL,
	"clean_bpm" real,
	"last_at" timestamp with time zone NOT NULL,
	CONSTRAINT "sums_of" UNIQUE NULLS NOT DISTINCT("owner_id","day","song_id","part_id","hands","notes_key")
);
--> statement-breakpoint
CREATE TABLE "records" (
	"song_id" uuid PRIMARY KEY NOT NULL,
	"basis" text NOT NULL,
	"up_to" integer NOT NULL,
	"record" jsonb NOT NULL
);
--> statement-breakpoint
ALTER TABLE "passes" ADD COLUMN "ordinal" integer;--> statement-breakpoint
UPDATE "passes" SET "ordinal" = "kept"."place" FROM (SELECT "id", row_number() OVER (PARTITION BY "owner_id" ORDER BY "saved_at", "id") AS "place" FROM "passes") AS "kept" WHERE "passes"."id" = "kept"."id";--> statement-breakpoint
ALTER TABLE "passes" ALTER COLUMN "ordinal" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "players" ADD COLUMN "passes_kept" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
UPDATE "players" SET "passes_kept" = (SELECT count(*) FROM "passes" WHERE "passes"."owner_id" = "players"."id");--> statement-breakpoint
ALTER TABLE "sums" ADD CONSTRAINT "sums_owner_id_players_id_fk" FOREIGN KEY ("owner_id") REFERENCES "public"."players"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sums" ADD CONSTRAINT "sums_song" FOREIGN KEY ("owner_id","song_id") REFERENCES "public"."songs"("owner_id","id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "records" ADD CONSTRAINT "records_song_id_songs_id_fk" FOREIGN KEY ("song_id") REFERENCES "public"."songs"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "sums_by_song" ON "sums" USING btree ("song_id");--> statement-breakpoint
CREATE INDEX "sums_by_notes" ON "sums" USING btree ("owner_id","notes_key");--> statement-breakpoint
ALTER TABLE "passes" ADD CONSTRAINT "passes_ordinal" UNIQUE("owner_id","ordinal");