"""Files that Anzel keeps: project files and migrations, recovery, the stock library, meshes."""
