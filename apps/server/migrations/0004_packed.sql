CREATE TABLE `writes` (
	`request_id` text PRIMARY KEY NOT NULL,
	`arrangement_id` text NOT NULL,
	`revision` integer NOT NULL,
	`written_at` text NOT NULL,
	FOREIGN KEY (`arrangement_id`) REFERENCES `arrangements`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE INDEX `writes_written` ON `writes` (`written_at`);--> statement-breakpoint
ALTER TABLE `arrangements` ADD `folded` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `journal` ADD `packed` blob;--> statement-breakpoint
ALTER TABLE `journal` ADD `touched` integer;--> statement-breakpoint
ALTER TABLE `snapshots` ADD `packed` blob;--> statement-breakpoint
ALTER TABLE `snapshots` ADD `kept` integer DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `snapshots` ADD `written_at` text DEFAULT '' NOT NULL;