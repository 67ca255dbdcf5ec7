ALTER TABLE `arrangements` ADD `position` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `arrangements` ADD `length` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `arrangements` ADD `form` integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE `journal` ADD `place` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `journal` ADD `label` text;--> statement-breakpoint
CREATE INDEX `journal_place` ON `journal` (`arrangement_id`,`place`);--> statement-breakpoint
ALTER TABLE `snapshots` ADD `position` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `snapshots` ADD `length` integer DEFAULT 0 NOT NULL;