CREATE TYPE "public"."hands" AS ENUM('right', 'left', 'both');--> statement-breakpoint
CREATE TYPE "public"."mode" AS ENUM('steady', 'free');--> statement-breakpoint
CREATE TABLE "assessments" (
	"pass_id" uuid PRIMARY KEY NOT NULL,
	"owner_id" uuid NOT NULL,
	"document" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "passes" (
	"id" uuid PRIMARY KEY NOT NULL,
	"owner_id" uuid NOT NULL,
	"arrangement_id" uuid NOT NULL,
	"part_id" uuid,
	"part_name" text NOT NULL,
	"from_n" integer NOT NULL,
	"from_d" integer NOT NULL,
	"to_n" integer NOT NULL,
	"to_d" integer NOT NULL,
	"take_id" uuid NOT NULL,
	"hands" "hands" NOT NULL,
	"mode" "mode" NOT NULL,
	"bpm" real NOT NULL,
	"started_at" timestamp with time zone NOT NULL,
	"length_ms" integer NOT NULL,
	"notes" integer NOT NULL,
	"right" integer NOT NULL,
	"wrong" integer NOT NULL,
	"missed" integer NOT NULL,
	"extra" integer NOT NULL,
	"on_time_share" real NOT NULL,
	"offset_ms" real NOT NULL,
	"drift_percent" real NOT NULL,
	"unsteadiness_ms" real NOT NULL,
	"clean" boolean NOT NULL,
	"score" integer NOT NULL,
	"sentence" text NOT NULL,
	"saved_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "passes_owner_id" UNIQUE("owner_id","id")
);
--> statement-breakpoint
CREATE TABLE "takes" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"owner_id" uuid NOT NULL,
	"midi" "bytea" NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "takes_owner_id" UNIQUE("owner_id","id")
);
--> statement-breakpoint
CREATE TABLE "players" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"name" text NOT NULL,
	"password_hash" text,
	"is_demo" boolean DEFAULT false NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "arrangements" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"owner_id" uuid NOT NULL,
	"song_id" uuid NOT NULL,
	"version" integer NOT NULL,
	"bars" integer NOT NULL,
	"document" jsonb NOT NULL,
	"music_xml" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "arrangements_owner_id" UNIQUE("owner_id","id"),
	CONSTRAINT "arrangements_version" UNIQUE("song_id","version")
);
--> statement-breakpoint
CREATE TABLE "parts" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"owner_id" uuid NOT NULL,
	"arrangement_id" uuid NOT NULL,
	"place" integer NOT NULL,
	"name" text NOT NULL,
	"from_n" integer NOT NULL,
	"from_d" integer NOT NULL,
	"to_n" integer NOT NULL,
	"to_d" integer NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "parts_owner_id" UNIQUE("owner_id","id")
);
--> statement-breakpoint
CREATE TABLE "songs" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"owner_id" uuid NOT NULL,
	"title" text NOT NULL,
	"composer" text DEFAULT '' NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"archived_at" timestamp with time zone,
	CONSTRAINT "songs_owner_id" UNIQUE("owner_id","id")
);
--> statement-breakpoint
ALTER TABLE "assessments" ADD CONSTRAINT "assessments_pass" FOREIGN KEY ("owner_id","pass_id") REFERENCES "public"."passes"("owner_id","id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "passes" ADD CONSTRAINT "passes_owner_id_players_id_fk" FOREIGN KEY ("owner_id") REFERENCES "public"."players"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "passes" ADD CONSTRAINT "passes_part_id_parts_id_fk" FOREIGN KEY ("part_id") REFERENCES "public"."parts"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "passes" ADD CONSTRAINT "passes_arrangement" FOREIGN KEY ("owner_id","arrangement_id") REFERENCES "public"."arrangements"("owner_id","id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "passes" ADD CONSTRAINT "passes_take" FOREIGN KEY ("owner_id","take_id") REFERENCES "public"."takes"("owner_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "takes" ADD CONSTRAINT "takes_owner_id_players_id_fk" FOREIGN KEY ("owner_id") REFERENCES "public"."players"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "arrangements" ADD CONSTRAINT "arrangements_song" FOREIGN KEY ("owner_id","song_id") REFERENCES "public"."songs"("owner_id","id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "parts" ADD CONSTRAINT "parts_arrangement" FOREIGN KEY ("owner_id","arrangement_id") REFERENCES "public"."arrangements"("owner_id","id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "songs" ADD CONSTRAINT "songs_owner_id_players_id_fk" FOREIGN KEY ("owner_id") REFERENCES "public"."players"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "passes_by_day" ON "passes" USING btree ("owner_id","started_at" DESC NULLS LAST,"id" DESC NULLS LAST);--> statement-breakpoint
CREATE INDEX "passes_by_part" ON "passes" USING btree ("owner_id","part_id","hands","started_at" DESC NULLS LAST);--> statement-breakpoint
CREATE INDEX "passes_by_arrangement" ON "passes" USING btree ("arrangement_id");--> statement-breakpoint
CREATE UNIQUE INDEX "players_name" ON "players" USING btree (lower("name"));--> statement-breakpoint
CREATE UNIQUE INDEX "players_one_demo" ON "players" USING btree ("is_demo") WHERE "players"."is_demo";--> statement-breakpoint
CREATE INDEX "parts_in_order" ON "parts" USING btree ("arrangement_id","place");