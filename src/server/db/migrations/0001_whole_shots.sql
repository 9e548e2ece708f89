CREATE TABLE `frame_figures` (
	`shot_id` integer NOT NULL,
	`recipe` text NOT NULL,
	`frame` integer NOT NULL,
	`figures` text NOT NULL,
	`created_at` integer NOT NULL,
	PRIMARY KEY(`shot_id`, `recipe`, `frame`),
	FOREIGN KEY (`shot_id`) REFERENCES `shots`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE TABLE `setups` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`name` text NOT NULL,
	`recipe` text NOT NULL,
	`controls` text NOT NULL,
	`created_at` integer NOT NULL
);
--> statement-breakpoint
ALTER TABLE `log` ADD `recipe` text;--> statement-breakpoint
ALTER TABLE `log` ADD `thumb` text;