CREATE TABLE `recordings` (
	`id` text NOT NULL,
	`arrangement_id` text NOT NULL,
	`media_type` text NOT NULL,
	`added_at` text NOT NULL,
	PRIMARY KEY(`arrangement_id`, `id`),
	FOREIGN KEY (`arrangement_id`) REFERENCES `arrangements`(`id`) ON UPDATE no action ON DELETE cascade
);
