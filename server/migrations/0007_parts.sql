CREATE TABLE "part_books" (
	"drawing_id" uuid PRIMARY KEY NOT NULL,
	"listed" boolean DEFAULT true NOT NULL,
	"kept" jsonb DEFAULT '{"given":[],"retired":[]}'::jsonb NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	"found_from" text,
	"revision" integer,
	"book" jsonb,
	"fault" text
);
--> statement-breakpoint
ALTER TABLE "deliveries" ADD COLUMN "parts" jsonb;--> statement-breakpoint
ALTER TABLE "jobs" ADD COLUMN "part_rules" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "part_books" ADD CONSTRAINT "part_books_drawing_id_drawings_id_fk" FOREIGN KEY ("drawing_id") REFERENCES "public"."drawings"("id") ON DELETE cascade ON UPDATE no action;