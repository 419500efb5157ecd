CREATE TABLE "recipes" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"title" text NOT NULL,
	"whole" jsonb,
	"based_on" uuid,
	"why" text,
	"differences" jsonb,
	"seen_parent" jsonb,
	"version" integer DEFAULT 1 NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"changed_at" timestamp with time zone DEFAULT now() NOT NULL,
	"deleted_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "series" (
	"job_id" uuid NOT NULL,
	"name" text NOT NULL,
	"next" integer NOT NULL,
	CONSTRAINT "series_job_id_name_pk" PRIMARY KEY("job_id","name")
);
--> statement-breakpoint
CREATE TABLE "sets" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"job_id" uuid NOT NULL,
	"number" integer NOT NULL,
	"title" text NOT NULL,
	"recipe_id" uuid,
	"recipe" jsonb NOT NULL,
	"sources" jsonb NOT NULL,
	"date" text NOT NULL,
	"left_out" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"stopped" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"waived" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"objects" integer,
	"previous_id" uuid,
	"request" uuid,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"deleted_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "source_facts" (
	"drawing_id" uuid PRIMARY KEY NOT NULL,
	"found_from" text NOT NULL,
	"facts" jsonb,
	"losses" jsonb,
	"fault" text
);
--> statement-breakpoint
ALTER TABLE "deliveries" ADD COLUMN "yardsticks" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "deliveries" ADD COLUMN "record" jsonb;--> statement-breakpoint
ALTER TABLE "deliveries" ADD COLUMN "prepared" integer;--> statement-breakpoint
ALTER TABLE "deliveries" ADD COLUMN "picture" text;--> statement-breakpoint
ALTER TABLE "deliveries" ADD COLUMN "picture_size" integer;--> statement-breakpoint
ALTER TABLE "deliveries" ADD COLUMN "set_id" uuid;--> statement-breakpoint
ALTER TABLE "deliveries" ADD COLUMN "place" integer;--> statement-breakpoint
ALTER TABLE "deliveries" ADD COLUMN "in_set" jsonb;--> statement-breakpoint
ALTER TABLE "deliveries" ADD COLUMN "made_from" text;--> statement-breakpoint
ALTER TABLE "deliveries" ADD COLUMN "previous_id" uuid;--> statement-breakpoint
ALTER TABLE "deliveries" ADD COLUMN "differs" jsonb;--> statement-breakpoint
ALTER TABLE "drawings" ADD COLUMN "yardsticks" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "series" ADD CONSTRAINT "series_job_id_jobs_id_fk" FOREIGN KEY ("job_id") REFERENCES "public"."jobs"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sets" ADD CONSTRAINT "sets_job_id_jobs_id_fk" FOREIGN KEY ("job_id") REFERENCES "public"."jobs"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "source_facts" ADD CONSTRAINT "source_facts_drawing_id_drawings_id_fk" FOREIGN KEY ("drawing_id") REFERENCES "public"."drawings"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "sets_by_job" ON "sets" USING btree ("job_id");--> statement-breakpoint
CREATE UNIQUE INDEX "sets_by_number" ON "sets" USING btree ("job_id","number");--> statement-breakpoint
CREATE UNIQUE INDEX "sets_by_request" ON "sets" USING btree ("request");--> statement-breakpoint
ALTER TABLE "deliveries" ADD CONSTRAINT "deliveries_set_id_sets_id_fk" FOREIGN KEY ("set_id") REFERENCES "public"."sets"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "deliveries_by_set" ON "deliveries" USING btree ("set_id","place");