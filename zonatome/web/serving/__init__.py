"""Starting and ending: the site, its worker, their locks on the folder, and backups."""
