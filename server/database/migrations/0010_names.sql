ALTER TABLE "players" RENAME TO "accounts";--> statement-breakpoint
ALTER INDEX "players_name" RENAME TO "accounts_name";--> statement-breakpoint
ALTER INDEX "players_one_demo" RENAME TO "accounts_one_demo";--> statement-breakpoint
ALTER INDEX "players_pkey" RENAME TO "accounts_pkey";--> statement-breakpoint
ALTER TABLE "days" RENAME CONSTRAINT "days_owner_id_players_id_fk" TO "days_owner_id_accounts_id_fk";--> statement-breakpoint
ALTER TABLE "passes" RENAME CONSTRAINT "passes_owner_id_players_id_fk" TO "passes_owner_id_accounts_id_fk";--> statement-breakpoint
ALTER TABLE "takes" RENAME CONSTRAINT "takes_owner_id_players_id_fk" TO "takes_owner_id_accounts_id_fk";--> statement-breakpoint
ALTER TABLE "songs" RENAME CONSTRAINT "songs_owner_id_players_id_fk" TO "songs_owner_id_accounts_id_fk";--> statement-breakpoint
ALTER TABLE "sums" RENAME CONSTRAINT "sums_owner_id_players_id_fk" TO "sums_owner_id_accounts_id_fk";--> statement-breakpoint
ALTER TABLE "arrangements" RENAME COLUMN "version" TO "revision";--> statement-breakpoint
ALTER TABLE "arrangements" RENAME CONSTRAINT "arrangements_version" TO "arrangements_revision";--> statement-breakpoint
ALTER TABLE "songs" RENAME COLUMN "version_of" TO "edition_of";--> statement-breakpoint
ALTER TABLE "songs" RENAME CONSTRAINT "songs_version_of" TO "songs_edition_of";--> statement-breakpoint
ALTER INDEX "songs_by_first_version" RENAME TO "songs_by_first_edition";