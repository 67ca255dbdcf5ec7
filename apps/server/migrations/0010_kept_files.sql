CREATE TABLE `notices` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`text` text NOT NULL,
	`at` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `sessions` (
	`hash` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`created_at` text NOT NULL,
	`used_at` text NOT NULL,
	`ends_at` text NOT NULL
);
--> statement-breakpoint
ALTER TABLE `recordings` ADD `file` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `soundfonts` ADD `file` text DEFAULT '' NOT NULL;--> statement-breakpoint
UPDATE `recordings` SET `file` = `id`;--> statement-breakpoint
UPDATE `soundfonts` SET `file` = `id`;
