ALTER TABLE "deliveries" ADD COLUMN "deleted_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "drawings" ADD COLUMN "review" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "drawings" ADD COLUMN "target" jsonb;--> statement-breakpoint
ALTER TABLE "jobs" ADD COLUMN "target" jsonb;