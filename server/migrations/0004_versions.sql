ALTER TABLE "deliveries" ADD COLUMN "attempts" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "deliveries" ADD COLUMN "worker" uuid;--> statement-breakpoint
ALTER TABLE "deliveries" ADD COLUMN "lease_until" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "deliveries" ADD COLUMN "request" uuid;--> statement-breakpoint
ALTER TABLE "drawings" ADD COLUMN "version" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "drawings" ADD COLUMN "changes" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "drawings" ADD COLUMN "request" uuid;--> statement-breakpoint
ALTER TABLE "revisions" ADD COLUMN "request" uuid;--> statement-breakpoint
CREATE INDEX "deliveries_by_state" ON "deliveries" USING btree ("state","created_at");--> statement-breakpoint
CREATE UNIQUE INDEX "deliveries_by_request" ON "deliveries" USING btree ("request");--> statement-breakpoint
CREATE UNIQUE INDEX "drawings_by_request" ON "drawings" USING btree ("request");--> statement-breakpoint
CREATE UNIQUE INDEX "revisions_by_request" ON "revisions" USING btree ("request");