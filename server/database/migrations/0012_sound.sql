ALTER TABLE "accounts" ADD COLUMN "sound" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "accounts" ADD COLUMN "delays" jsonb DEFAULT '[]'::jsonb NOT NULL;