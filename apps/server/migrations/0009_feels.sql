CREATE TABLE `feels` (
	`name` text PRIMARY KEY NOT NULL,
	`data` text NOT NULL,
	`changed_at` text NOT NULL
);
