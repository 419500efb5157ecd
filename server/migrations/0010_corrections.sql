CREATE TABLE "corrections" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"drawing_id" uuid NOT NULL,
	"check" text DEFAULT '' NOT NULL,
	"revision" integer NOT NULL,
	"seen_in" integer NOT NULL,
	"mended_in" integer,
	"what" text NOT NULL,
	"layer" text DEFAULT '' NOT NULL,
	"at" jsonb,
	"unit" text DEFAULT '' NOT NULL,
	"measured" text DEFAULT '' NOT NULL,
	"proposed" text DEFAULT '' NOT NULL,
	"answer" text DEFAULT '' NOT NULL,
	"state" text DEFAULT 'asked' NOT NULL,
	"picture" text DEFAULT '' NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"deleted_at" timestamp with time zone
);
--> statement-breakpoint
ALTER TABLE "corrections" ADD CONSTRAINT "corrections_drawing_id_drawings_id_fk" FOREIGN KEY ("drawing_id") REFERENCES "public"."drawings"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "corrections_by_drawing" ON "corrections" USING btree ("drawing_id");