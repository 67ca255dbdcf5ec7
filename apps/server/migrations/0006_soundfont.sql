CREATE TABLE `soundfonts` (
	`id` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`bytes` integer NOT NULL
);
