CREATE TABLE "tracker_rows" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"job_id" uuid NOT NULL,
	"file_id" uuid,
	"fields" jsonb DEFAULT '{}'::jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"deleted_at" timestamp with time zone
);
--> statement-breakpoint
ALTER TABLE "jobs" ADD COLUMN "tracker_states" jsonb;--> statement-breakpoint
ALTER TABLE "tracker_rows" ADD CONSTRAINT "tracker_rows_job_id_jobs_id_fk" FOREIGN KEY ("job_id") REFERENCES "public"."jobs"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "tracker_by_job" ON "tracker_rows" USING btree ("job_id");--> statement-breakpoint
CREATE UNIQUE INDEX "tracker_by_file" ON "tracker_rows" USING btree ("job_id","file_id");