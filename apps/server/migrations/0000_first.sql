CREATE TABLE `arrangements` (
	`id` text PRIMARY KEY NOT NULL,
	`summary` text NOT NULL,
	`revision` integer NOT NULL,
	`created_at` text NOT NULL,
	`changed_at` text NOT NULL,
	`deleted_at` text
);
--> statement-breakpoint
CREATE INDEX `arrangements_changed` ON `arrangements` (`changed_at`);--> statement-breakpoint
CREATE TABLE `journal` (
	`arrangement_id` text NOT NULL,
	`revision` integer NOT NULL,
	`entry` text NOT NULL,
	`written_at` text NOT NULL,
	PRIMARY KEY(`arrangement_id`, `revision`),
	FOREIGN KEY (`arrangement_id`) REFERENCES `arrangements`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE TABLE `snapshots` (
	`arrangement_id` text NOT NULL,
	`revision` integer NOT NULL,
	`data` text NOT NULL,
	PRIMARY KEY(`arrangement_id`, `revision`),
	FOREIGN KEY (`arrangement_id`) REFERENCES `arrangements`(`id`) ON UPDATE no action ON DELETE cascade
);
