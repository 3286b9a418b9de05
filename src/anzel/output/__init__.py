"""Files that leave Anzel: cut files, paper templates, lists; and cut files read back."""
