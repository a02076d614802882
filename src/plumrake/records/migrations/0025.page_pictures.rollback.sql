DROP TABLE page_picture;
