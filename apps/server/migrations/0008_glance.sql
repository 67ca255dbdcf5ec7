ALTER TABLE `arrangements` ADD `glance` text;--> statement-breakpoint
ALTER TABLE `arrangements` ADD `glance_revision` integer;