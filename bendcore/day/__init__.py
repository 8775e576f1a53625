"""Who does what when: tasks on brakes by people, planned over the shop's working minutes."""
