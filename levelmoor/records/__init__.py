"""What is kept: tables in MariaDB, their migrations, and the mapping between rows and core objects."""
