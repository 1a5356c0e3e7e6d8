-- The tables, and what the database itself forbids for every account. Statements are divided by an empty line.

CREATE TABLE attempt (
  id INTEGER NOT NULL AUTO_INCREMENT,
  counted_under VARCHAR(120) COLLATE utf8mb4_bin NOT NULL,
  at DATETIME NOT NULL,
  CONSTRAINT pk_attempt PRIMARY KEY (id)
);

CREATE INDEX ix_attempt_key ON attempt (counted_under, at);

CREATE TABLE audit (
  id INTEGER NOT NULL AUTO_INCREMENT,
  team_id INTEGER,
  user_id INTEGER,
  at DATETIME NOT NULL,
  who VARCHAR(200) NOT NULL,
  kind VARCHAR(40) NOT NULL,
  what TEXT NOT NULL,
  address VARCHAR(60) NOT NULL,
  evaluation_id INTEGER,
  row_kind VARCHAR(20),
  row_id INTEGER,
  field VARCHAR(60),
  old_value JSON,
  new_value JSON,
  CONSTRAINT pk_audit PRIMARY KEY (id)
);

CREATE INDEX ix_audit_evaluation ON audit (evaluation_id, id);

CREATE INDEX ix_audit_row ON audit (row_kind, row_id, id);

CREATE INDEX ix_audit_team ON audit (team_id, id);

CREATE TABLE lease (
  address VARCHAR(60) COLLATE utf8mb4_bin NOT NULL,
  team_id INTEGER NOT NULL,
  until DATETIME NOT NULL,
  floor INTEGER NOT NULL,
  CONSTRAINT pk_lease PRIMARY KEY (address)
);

CREATE TABLE setting (
  name VARCHAR(60) NOT NULL,
  value TEXT NOT NULL,
  CONSTRAINT pk_setting PRIMARY KEY (name)
);

CREATE TABLE team (
  id INTEGER NOT NULL AUTO_INCREMENT,
  name VARCHAR(200) NOT NULL,
  region INTEGER NOT NULL,
  rule VARCHAR(20) NOT NULL,
  profile VARCHAR(20) NOT NULL,
  profile_limit DOUBLE NOT NULL,
  reports_listed BOOL NOT NULL,
  bench_rule VARCHAR(20) NOT NULL,
  age_limit_h DOUBLE NOT NULL,
  rebuild_min DOUBLE NOT NULL,
  calibration_min DOUBLE NOT NULL,
  sweep_min DOUBLE NOT NULL,
  spread_hz DOUBLE NOT NULL,
  spots JSON NOT NULL,
  asks_review BOOL NOT NULL,
  bands JSON NOT NULL,
  CONSTRAINT pk_team PRIMARY KEY (id),
  CONSTRAINT uq_team_name UNIQUE (name)
);

CREATE TABLE user (
  id INTEGER NOT NULL AUTO_INCREMENT,
  email VARCHAR(200) COLLATE utf8mb4_bin NOT NULL,
  name VARCHAR(200) NOT NULL,
  password_hash VARCHAR(200) NOT NULL,
  CONSTRAINT pk_user PRIMARY KEY (id),
  CONSTRAINT uq_user_email UNIQUE (email)
);

CREATE TABLE column_mapping (
  id INTEGER NOT NULL AUTO_INCREMENT,
  team_id INTEGER NOT NULL,
  header_sha256 VARCHAR(64) NOT NULL,
  columns VARCHAR(200) NOT NULL,
  unit VARCHAR(10) NOT NULL,
  CONSTRAINT pk_column_mapping PRIMARY KEY (id),
  CONSTRAINT uq_column_mapping_team_id UNIQUE (team_id, header_sha256),
  CONSTRAINT fk_column_mapping_team_id FOREIGN KEY(team_id) REFERENCES team (id)
);

CREATE TABLE driver (
  id INTEGER NOT NULL AUTO_INCREMENT,
  team_id INTEGER NOT NULL,
  name VARCHAR(80) NOT NULL,
  commands JSON NOT NULL,
  deleted_at DATETIME,
  CONSTRAINT pk_driver PRIMARY KEY (id),
  CONSTRAINT fk_driver_team_id FOREIGN KEY(team_id) REFERENCES team (id)
);

CREATE INDEX ix_driver_team_id ON driver (team_id);

CREATE TABLE instrument (
  id INTEGER NOT NULL AUTO_INCREMENT,
  team_id INTEGER NOT NULL,
  name VARCHAR(200) NOT NULL,
  description VARCHAR(200) NOT NULL,
  directivity_db DOUBLE NOT NULL,
  tracking DOUBLE NOT NULL,
  source_match_db DOUBLE NOT NULL,
  repeat_u DOUBLE NOT NULL,
  watt_accuracy DOUBLE NOT NULL,
  swr_division DOUBLE NOT NULL,
  truncates INTEGER NOT NULL,
  full_scale_accuracy DOUBLE NOT NULL,
  full_scale_w DOUBLE NOT NULL,
  read_at_w DOUBLE NOT NULL,
  figures_source VARCHAR(200) NOT NULL,
  instrument_class VARCHAR(20) NOT NULL,
  low_hz DOUBLE NOT NULL,
  high_hz DOUBLE NOT NULL,
  points INTEGER NOT NULL,
  ports INTEGER NOT NULL,
  memories INTEGER NOT NULL,
  connector VARCHAR(40) NOT NULL,
  max_input_dbm DOUBLE,
  noise_dbm DOUBLE,
  noise_rbw_hz DOUBLE,
  checked_on VARCHAR(10) NOT NULL,
  level_u_db DOUBLE NOT NULL,
  second_intercept_dbm DOUBLE,
  third_intercept_dbm DOUBLE,
  address VARCHAR(60) NOT NULL,
  driver VARCHAR(80) NOT NULL,
  deleted_at DATETIME,
  CONSTRAINT pk_instrument PRIMARY KEY (id),
  CONSTRAINT fk_instrument_team_id FOREIGN KEY(team_id) REFERENCES team (id)
);

CREATE INDEX ix_instrument_team_id ON instrument (team_id);

CREATE TABLE invitation (
  id INTEGER NOT NULL AUTO_INCREMENT,
  team_id INTEGER NOT NULL,
  email VARCHAR(200) NOT NULL,
  `role` VARCHAR(20) NOT NULL,
  token_sha256 VARCHAR(64) NOT NULL,
  made_by VARCHAR(200) NOT NULL,
  made_at DATETIME NOT NULL,
  ends_at DATETIME NOT NULL,
  ended_at DATETIME,
  account_asked BOOL NOT NULL,
  CONSTRAINT pk_invitation PRIMARY KEY (id),
  CONSTRAINT fk_invitation_team_id FOREIGN KEY(team_id) REFERENCES team (id),
  CONSTRAINT uq_invitation_token_sha256 UNIQUE (token_sha256)
);

CREATE INDEX ix_invitation_team_id ON invitation (team_id);

CREATE TABLE mail (
  id INTEGER NOT NULL AUTO_INCREMENT,
  team_id INTEGER,
  to_address VARCHAR(200) NOT NULL,
  subject VARCHAR(200) NOT NULL,
  words TEXT NOT NULL,
  made_at DATETIME NOT NULL,
  sent_at DATETIME,
  problem TEXT NOT NULL,
  CONSTRAINT pk_mail PRIMARY KEY (id),
  CONSTRAINT fk_mail_team_id FOREIGN KEY(team_id) REFERENCES team (id)
);

CREATE INDEX ix_mail_team_id ON mail (team_id);

CREATE TABLE membership (
  user_id INTEGER NOT NULL,
  team_id INTEGER NOT NULL,
  `role` VARCHAR(20) NOT NULL,
  joined_at DATETIME,
  CONSTRAINT pk_membership PRIMARY KEY (user_id, team_id),
  CONSTRAINT fk_membership_user_id FOREIGN KEY(user_id) REFERENCES user (id),
  CONSTRAINT fk_membership_team_id FOREIGN KEY(team_id) REFERENCES team (id)
);

CREATE TABLE owned (
  id INTEGER NOT NULL AUTO_INCREMENT,
  team_id INTEGER NOT NULL,
  kind VARCHAR(20) NOT NULL,
  name VARCHAR(200) NOT NULL,
  facts JSON NOT NULL,
  deleted_at DATETIME,
  CONSTRAINT pk_owned PRIMARY KEY (id),
  CONSTRAINT fk_owned_team_id FOREIGN KEY(team_id) REFERENCES team (id)
);

CREATE INDEX ix_owned_team_id ON owned (team_id);

CREATE TABLE product (
  id INTEGER NOT NULL AUTO_INCREMENT,
  team_id INTEGER NOT NULL,
  name VARCHAR(200) NOT NULL,
  maker VARCHAR(200) NOT NULL,
  description TEXT NOT NULL,
  in_the_box TEXT NOT NULL,
  CONSTRAINT pk_product PRIMARY KEY (id),
  CONSTRAINT fk_product_team_id FOREIGN KEY(team_id) REFERENCES team (id)
);

CREATE INDEX ix_product_team_id ON product (team_id);

CREATE TABLE raw_file (
  id INTEGER NOT NULL AUTO_INCREMENT,
  team_id INTEGER NOT NULL,
  sha256 VARCHAR(64) NOT NULL,
  size INTEGER NOT NULL,
  data LONGBLOB NOT NULL,
  CONSTRAINT pk_raw_file PRIMARY KEY (id),
  CONSTRAINT uq_raw_file_team_id UNIQUE (team_id, sha256),
  CONSTRAINT fk_raw_file_team_id FOREIGN KEY(team_id) REFERENCES team (id)
);

CREATE TABLE reset_link (
  id INTEGER NOT NULL AUTO_INCREMENT,
  user_id INTEGER NOT NULL,
  token_sha256 VARCHAR(64) NOT NULL,
  made_by VARCHAR(200) NOT NULL,
  made_at DATETIME NOT NULL,
  ends_at DATETIME NOT NULL,
  ended_at DATETIME,
  CONSTRAINT pk_reset_link PRIMARY KEY (id),
  CONSTRAINT fk_reset_link_user_id FOREIGN KEY(user_id) REFERENCES user (id),
  CONSTRAINT uq_reset_link_token_sha256 UNIQUE (token_sha256)
);

CREATE INDEX ix_reset_link_user_id ON reset_link (user_id);

CREATE TABLE rule_set (
  id INTEGER NOT NULL AUTO_INCREMENT,
  team_id INTEGER NOT NULL,
  rule_id VARCHAR(60) NOT NULL,
  rules JSON NOT NULL,
  deleted_at DATETIME,
  CONSTRAINT pk_rule_set PRIMARY KEY (id),
  CONSTRAINT fk_rule_set_team_id FOREIGN KEY(team_id) REFERENCES team (id)
);

CREATE INDEX ix_rule_set_team_id ON rule_set (team_id);

CREATE TABLE sign_in (
  id INTEGER NOT NULL AUTO_INCREMENT,
  user_id INTEGER NOT NULL,
  token_sha256 VARCHAR(64) NOT NULL,
  address VARCHAR(60) NOT NULL,
  device VARCHAR(200) NOT NULL,
  begun_at DATETIME NOT NULL,
  seen_at DATETIME NOT NULL,
  ended_at DATETIME,
  CONSTRAINT pk_sign_in PRIMARY KEY (id),
  CONSTRAINT fk_sign_in_user_id FOREIGN KEY(user_id) REFERENCES user (id),
  CONSTRAINT uq_sign_in_token_sha256 UNIQUE (token_sha256)
);

CREATE INDEX ix_sign_in_user_id ON sign_in (user_id);

CREATE TABLE calibration (
  id INTEGER NOT NULL AUTO_INCREMENT,
  team_id INTEGER NOT NULL,
  instrument_id INTEGER NOT NULL,
  low_hz DOUBLE NOT NULL,
  high_hz DOUBLE NOT NULL,
  points INTEGER NOT NULL,
  standards VARCHAR(200) NOT NULL,
  plane VARCHAR(20) NOT NULL,
  at_text VARCHAR(200) NOT NULL,
  kit_id INTEGER,
  load_id INTEGER,
  done_at VARCHAR(16) NOT NULL,
  parts JSON NOT NULL,
  deleted_at DATETIME,
  CONSTRAINT pk_calibration PRIMARY KEY (id),
  CONSTRAINT fk_calibration_team_id FOREIGN KEY(team_id) REFERENCES team (id),
  CONSTRAINT fk_calibration_instrument_id FOREIGN KEY(instrument_id) REFERENCES instrument (id),
  CONSTRAINT fk_calibration_kit_id FOREIGN KEY(kit_id) REFERENCES owned (id),
  CONSTRAINT fk_calibration_load_id FOREIGN KEY(load_id) REFERENCES owned (id)
);

CREATE INDEX ix_calibration_team_id ON calibration (team_id);

CREATE TABLE evaluation (
  id INTEGER NOT NULL AUTO_INCREMENT,
  team_id INTEGER NOT NULL,
  product_id INTEGER NOT NULL,
  title VARCHAR(200) NOT NULL,
  region INTEGER NOT NULL,
  rule VARCHAR(20) NOT NULL,
  profile VARCHAR(20) NOT NULL,
  profile_limit DOUBLE NOT NULL,
  notes TEXT NOT NULL,
  worst_verdict VARCHAR(20) NOT NULL,
  card JSON NOT NULL,
  bench_sample_id INTEGER,
  bench_setup_id INTEGER,
  bench_instrument_id INTEGER,
  bench_setting_id INTEGER,
  opened_rounds JSON NOT NULL,
  bench_calibration VARCHAR(20) NOT NULL,
  bench_calibration_id INTEGER,
  bench_rule VARCHAR(20) NOT NULL,
  age_limit_h DOUBLE NOT NULL,
  wishes JSON NOT NULL,
  plan_seen JSON NOT NULL,
  rule_ids JSON NOT NULL,
  wanted_hz JSON NOT NULL,
  imported_sha256 VARCHAR(64) NOT NULL,
  created_at DATETIME NOT NULL,
  updated_at DATETIME NOT NULL,
  deleted_at DATETIME,
  CONSTRAINT pk_evaluation PRIMARY KEY (id),
  CONSTRAINT fk_evaluation_team_id FOREIGN KEY(team_id) REFERENCES team (id),
  CONSTRAINT fk_evaluation_product_id FOREIGN KEY(product_id) REFERENCES product (id)
);

CREATE INDEX ix_evaluation_list ON evaluation (team_id, deleted_at, updated_at);

CREATE INDEX ix_evaluation_worst_verdict ON evaluation (worst_verdict);

CREATE TABLE article_element (
  id INTEGER NOT NULL AUTO_INCREMENT,
  evaluation_id INTEGER NOT NULL,
  name VARCHAR(200) NOT NULL,
  kind VARCHAR(20) NOT NULL,
  unit VARCHAR(20) NOT NULL,
  begins_at DOUBLE NOT NULL,
  lengthens BOOL NOT NULL,
  lowest DOUBLE,
  highest DOUBLE,
  bands JSON NOT NULL,
  cut BOOL NOT NULL,
  deleted_at DATETIME,
  CONSTRAINT pk_article_element PRIMARY KEY (id),
  CONSTRAINT fk_article_element_evaluation_id FOREIGN KEY(evaluation_id) REFERENCES evaluation (id)
);

CREATE INDEX ix_article_element_evaluation_id ON article_element (evaluation_id);

CREATE TABLE article_setting (
  id INTEGER NOT NULL AUTO_INCREMENT,
  evaluation_id INTEGER NOT NULL,
  name VARCHAR(200) NOT NULL,
  windows JSON NOT NULL,
  mark DOUBLE,
  mark_words VARCHAR(200) NOT NULL,
  deleted_at DATETIME,
  CONSTRAINT pk_article_setting PRIMARY KEY (id),
  CONSTRAINT fk_article_setting_evaluation_id FOREIGN KEY(evaluation_id) REFERENCES evaluation (id)
);

CREATE INDEX ix_article_setting_evaluation_id ON article_setting (evaluation_id);

CREATE TABLE bench_check (
  id INTEGER NOT NULL AUTO_INCREMENT,
  team_id INTEGER NOT NULL,
  kind VARCHAR(20) NOT NULL,
  instrument_id INTEGER,
  calibration_id INTEGER,
  item_id INTEGER,
  done_at VARCHAR(16) NOT NULL,
  parts JSON NOT NULL,
  figures JSON NOT NULL,
  pairs JSON NOT NULL,
  note TEXT NOT NULL,
  deleted_at DATETIME,
  CONSTRAINT pk_bench_check PRIMARY KEY (id),
  CONSTRAINT fk_bench_check_team_id FOREIGN KEY(team_id) REFERENCES team (id),
  CONSTRAINT fk_bench_check_instrument_id FOREIGN KEY(instrument_id) REFERENCES instrument (id),
  CONSTRAINT fk_bench_check_calibration_id FOREIGN KEY(calibration_id) REFERENCES calibration (id),
  CONSTRAINT fk_bench_check_item_id FOREIGN KEY(item_id) REFERENCES owned (id)
);

CREATE INDEX ix_bench_check_team_id ON bench_check (team_id);

CREATE TABLE comment (
  id INTEGER NOT NULL AUTO_INCREMENT,
  evaluation_id INTEGER NOT NULL,
  about_kind VARCHAR(20) NOT NULL,
  about_id INTEGER,
  words TEXT NOT NULL,
  to_do BOOL NOT NULL,
  for_id INTEGER,
  made_by_id INTEGER NOT NULL,
  made_at DATETIME NOT NULL,
  done_by VARCHAR(200),
  done_at DATETIME,
  deleted_at DATETIME,
  CONSTRAINT pk_comment PRIMARY KEY (id),
  CONSTRAINT fk_comment_evaluation_id FOREIGN KEY(evaluation_id) REFERENCES evaluation (id),
  CONSTRAINT fk_comment_for_id FOREIGN KEY(for_id) REFERENCES user (id),
  CONSTRAINT fk_comment_made_by_id FOREIGN KEY(made_by_id) REFERENCES user (id)
);

CREATE INDEX ix_comment_evaluation_id ON comment (evaluation_id);

CREATE TABLE emission_filter (
  id INTEGER NOT NULL AUTO_INCREMENT,
  evaluation_id INTEGER NOT NULL,
  raw_file_id INTEGER NOT NULL,
  file_name VARCHAR(200) NOT NULL,
  deleted_at DATETIME,
  CONSTRAINT pk_emission_filter PRIMARY KEY (id),
  CONSTRAINT fk_emission_filter_evaluation_id FOREIGN KEY(evaluation_id) REFERENCES evaluation (id),
  CONSTRAINT fk_emission_filter_raw_file_id FOREIGN KEY(raw_file_id) REFERENCES raw_file (id)
);

CREATE INDEX ix_emission_filter_evaluation_id ON emission_filter (evaluation_id);

CREATE TABLE in_hand (
  id INTEGER NOT NULL AUTO_INCREMENT,
  sign_in_id INTEGER NOT NULL,
  evaluation_id INTEGER NOT NULL,
  sample_id INTEGER,
  setup_id INTEGER,
  instrument_id INTEGER,
  setting_id INTEGER,
  calibration VARCHAR(20) NOT NULL,
  calibration_id INTEGER,
  here_at DATETIME,
  CONSTRAINT pk_in_hand PRIMARY KEY (id),
  CONSTRAINT uq_in_hand_sign_in_id UNIQUE (sign_in_id, evaluation_id),
  CONSTRAINT fk_in_hand_sign_in_id FOREIGN KEY(sign_in_id) REFERENCES sign_in (id),
  CONSTRAINT fk_in_hand_evaluation_id FOREIGN KEY(evaluation_id) REFERENCES evaluation (id)
);

CREATE INDEX ix_in_hand_evaluation_id ON in_hand (evaluation_id);

CREATE TABLE pending_file (
  id INTEGER NOT NULL AUTO_INCREMENT,
  evaluation_id INTEGER NOT NULL,
  raw_file_id INTEGER NOT NULL,
  file_name VARCHAR(200) NOT NULL,
  taken_on VARCHAR(16) NOT NULL,
  deleted_at DATETIME,
  CONSTRAINT pk_pending_file PRIMARY KEY (id),
  CONSTRAINT fk_pending_file_evaluation_id FOREIGN KEY(evaluation_id) REFERENCES evaluation (id),
  CONSTRAINT fk_pending_file_raw_file_id FOREIGN KEY(raw_file_id) REFERENCES raw_file (id)
);

CREATE INDEX ix_pending_file_evaluation_id ON pending_file (evaluation_id);

CREATE TABLE report (
  id INTEGER NOT NULL AUTO_INCREMENT,
  team_id INTEGER NOT NULL,
  evaluation_id INTEGER NOT NULL,
  slug VARCHAR(40) COLLATE utf8mb4_bin NOT NULL,
  listed BOOL NOT NULL,
  withdrawn_at DATETIME,
  withdrawn_by VARCHAR(200),
  withdrawn_reason TEXT,
  CONSTRAINT pk_report PRIMARY KEY (id),
  CONSTRAINT fk_report_team_id FOREIGN KEY(team_id) REFERENCES team (id),
  CONSTRAINT uq_report_evaluation_id UNIQUE (evaluation_id),
  CONSTRAINT fk_report_evaluation_id FOREIGN KEY(evaluation_id) REFERENCES evaluation (id),
  CONSTRAINT uq_report_slug UNIQUE (slug)
);

CREATE INDEX ix_report_listed ON report (listed);

CREATE INDEX ix_report_team_id ON report (team_id);

CREATE TABLE review (
  id INTEGER NOT NULL AUTO_INCREMENT,
  evaluation_id INTEGER NOT NULL,
  asked_by_id INTEGER NOT NULL,
  asked_at DATETIME NOT NULL,
  content_sha256 VARCHAR(64) NOT NULL,
  answered_by_id INTEGER,
  answered_at DATETIME,
  approved BOOL,
  words TEXT NOT NULL,
  CONSTRAINT pk_review PRIMARY KEY (id),
  CONSTRAINT fk_review_evaluation_id FOREIGN KEY(evaluation_id) REFERENCES evaluation (id),
  CONSTRAINT fk_review_asked_by_id FOREIGN KEY(asked_by_id) REFERENCES user (id),
  CONSTRAINT fk_review_answered_by_id FOREIGN KEY(answered_by_id) REFERENCES user (id)
);

CREATE INDEX ix_review_evaluation_id ON review (evaluation_id);

CREATE TABLE sample (
  id INTEGER NOT NULL AUTO_INCREMENT,
  evaluation_id INTEGER NOT NULL,
  label VARCHAR(200) NOT NULL,
  serial VARCHAR(200) NOT NULL,
  obtained VARCHAR(20) NOT NULL,
  note TEXT NOT NULL,
  obtained_from VARCHAR(200) NOT NULL,
  price VARCHAR(60) NOT NULL,
  connector VARCHAR(40) NOT NULL,
  suspicion TEXT NOT NULL,
  control BOOL NOT NULL,
  set_aside TEXT NOT NULL,
  deleted_at DATETIME,
  CONSTRAINT pk_sample PRIMARY KEY (id),
  CONSTRAINT fk_sample_evaluation_id FOREIGN KEY(evaluation_id) REFERENCES evaluation (id)
);

CREATE INDEX ix_sample_evaluation_id ON sample (evaluation_id);

CREATE TABLE setup (
  id INTEGER NOT NULL AUTO_INCREMENT,
  evaluation_id INTEGER NOT NULL,
  name VARCHAR(200) NOT NULL,
  description TEXT NOT NULL,
  plane VARCHAR(20) NOT NULL,
  tuner_in_line BOOL NOT NULL,
  line_id INTEGER,
  planned BOOL NOT NULL,
  conditions JSON NOT NULL,
  `role` VARCHAR(20) NOT NULL,
  set_aside TEXT NOT NULL,
  deleted_at DATETIME,
  CONSTRAINT pk_setup PRIMARY KEY (id),
  CONSTRAINT fk_setup_evaluation_id FOREIGN KEY(evaluation_id) REFERENCES evaluation (id),
  CONSTRAINT fk_setup_line_id FOREIGN KEY(line_id) REFERENCES owned (id)
);

CREATE INDEX ix_setup_evaluation_id ON setup (evaluation_id);

CREATE TABLE tick (
  id INTEGER NOT NULL AUTO_INCREMENT,
  evaluation_id INTEGER NOT NULL,
  entry_id VARCHAR(40) NOT NULL,
  run_key VARCHAR(80) NOT NULL,
  done BOOL NOT NULL,
  note TEXT NOT NULL,
  made_at VARCHAR(30) NOT NULL,
  made_by VARCHAR(200) NOT NULL,
  received_at DATETIME NOT NULL,
  CONSTRAINT pk_tick PRIMARY KEY (id),
  CONSTRAINT uq_tick_evaluation_id UNIQUE (evaluation_id, entry_id),
  CONSTRAINT fk_tick_evaluation_id FOREIGN KEY(evaluation_id) REFERENCES evaluation (id)
);

CREATE TABLE tuner_network (
  id INTEGER NOT NULL AUTO_INCREMENT,
  evaluation_id INTEGER NOT NULL,
  name VARCHAR(200) NOT NULL,
  kind VARCHAR(20) NOT NULL,
  knobs JSON NOT NULL,
  coil_q DOUBLE NOT NULL,
  capacitor_q DOUBLE NOT NULL,
  q_source VARCHAR(200) NOT NULL,
  rated_v DOUBLE,
  rated_a DOUBLE,
  deleted_at DATETIME,
  CONSTRAINT pk_tuner_network PRIMARY KEY (id),
  CONSTRAINT fk_tuner_network_evaluation_id FOREIGN KEY(evaluation_id) REFERENCES evaluation (id)
);

CREATE INDEX ix_tuner_network_evaluation_id ON tuner_network (evaluation_id);

CREATE TABLE adjustment (
  id INTEGER NOT NULL AUTO_INCREMENT,
  evaluation_id INTEGER NOT NULL,
  entry_id VARCHAR(40) NOT NULL,
  sample_id INTEGER NOT NULL,
  setup_id INTEGER NOT NULL,
  setting_id INTEGER,
  round INTEGER NOT NULL,
  moves JSON NOT NULL,
  words TEXT NOT NULL,
  who VARCHAR(200) NOT NULL,
  made_at VARCHAR(20) NOT NULL,
  down_min DOUBLE,
  note TEXT NOT NULL,
  deleted_at DATETIME,
  CONSTRAINT pk_adjustment PRIMARY KEY (id),
  CONSTRAINT fk_adjustment_evaluation_id FOREIGN KEY(evaluation_id) REFERENCES evaluation (id),
  CONSTRAINT fk_adjustment_sample_id FOREIGN KEY(sample_id) REFERENCES sample (id),
  CONSTRAINT fk_adjustment_setup_id FOREIGN KEY(setup_id) REFERENCES setup (id),
  CONSTRAINT fk_adjustment_setting_id FOREIGN KEY(setting_id) REFERENCES article_setting (id)
);

CREATE INDEX ix_adjustment_evaluation_id ON adjustment (evaluation_id);

CREATE TABLE capture (
  id INTEGER NOT NULL AUTO_INCREMENT,
  evaluation_id INTEGER NOT NULL,
  sample_id INTEGER NOT NULL,
  setup_id INTEGER NOT NULL,
  instrument_id INTEGER NOT NULL,
  raw_file_id INTEGER NOT NULL,
  name VARCHAR(200) NOT NULL,
  file_name VARCHAR(200) NOT NULL,
  carrier_hz DOUBLE NOT NULL,
  rbw_hz DOUBLE NOT NULL,
  mode VARCHAR(40) NOT NULL,
  pad_ids JSON NOT NULL,
  line_id INTEGER,
  offset_curve JSON NOT NULL,
  filter_name VARCHAR(200) NOT NULL,
  entered_db DOUBLE NOT NULL,
  unit VARCHAR(10) NOT NULL,
  columns VARCHAR(200) NOT NULL,
  taken_on VARCHAR(16) NOT NULL,
  setting_id INTEGER,
  round INTEGER NOT NULL,
  set_aside TEXT NOT NULL,
  created_at DATETIME NOT NULL,
  deleted_at DATETIME,
  CONSTRAINT pk_capture PRIMARY KEY (id),
  CONSTRAINT fk_capture_evaluation_id FOREIGN KEY(evaluation_id) REFERENCES evaluation (id),
  CONSTRAINT fk_capture_sample_id FOREIGN KEY(sample_id) REFERENCES sample (id),
  CONSTRAINT fk_capture_setup_id FOREIGN KEY(setup_id) REFERENCES setup (id),
  CONSTRAINT fk_capture_instrument_id FOREIGN KEY(instrument_id) REFERENCES instrument (id),
  CONSTRAINT fk_capture_raw_file_id FOREIGN KEY(raw_file_id) REFERENCES raw_file (id),
  CONSTRAINT fk_capture_line_id FOREIGN KEY(line_id) REFERENCES owned (id),
  CONSTRAINT fk_capture_setting_id FOREIGN KEY(setting_id) REFERENCES article_setting (id)
);

CREATE INDEX ix_capture_evaluation_id ON capture (evaluation_id);

CREATE TABLE claim (
  id INTEGER NOT NULL AUTO_INCREMENT,
  evaluation_id INTEGER NOT NULL,
  quantity VARCHAR(20) NOT NULL,
  limit_value DOUBLE,
  z0_ohm DOUBLE NOT NULL,
  tuner VARCHAR(20) NOT NULL,
  windows JSON NOT NULL,
  condition_text TEXT NOT NULL,
  source TEXT NOT NULL,
  seen_on DATE,
  swr_at DOUBLE,
  power_w DOUBLE,
  mode VARCHAR(40) NOT NULL,
  duty DOUBLE,
  stated VARCHAR(200) NOT NULL,
  unit VARCHAR(10) NOT NULL,
  tolerance DOUBLE,
  setup_id INTEGER,
  excerpt TEXT NOT NULL,
  one_setting BOOL NOT NULL,
  deleted_at DATETIME,
  CONSTRAINT pk_claim PRIMARY KEY (id),
  CONSTRAINT fk_claim_evaluation_id FOREIGN KEY(evaluation_id) REFERENCES evaluation (id),
  CONSTRAINT fk_claim_setup_id FOREIGN KEY(setup_id) REFERENCES setup (id)
);

CREATE INDEX ix_claim_evaluation_id ON claim (evaluation_id);

CREATE TABLE field_record (
  id INTEGER NOT NULL AUTO_INCREMENT,
  evaluation_id INTEGER NOT NULL,
  entry_id VARCHAR(40) NOT NULL,
  kind VARCHAR(20) NOT NULL,
  sample_id INTEGER,
  setup_id INTEGER,
  data JSON NOT NULL,
  words VARCHAR(200) NOT NULL,
  who VARCHAR(200) NOT NULL,
  note TEXT NOT NULL,
  instrument_id INTEGER,
  setting_id INTEGER,
  round INTEGER NOT NULL,
  set_aside TEXT NOT NULL,
  deleted_at DATETIME,
  CONSTRAINT pk_field_record PRIMARY KEY (id),
  CONSTRAINT uq_field_record_evaluation_id UNIQUE (evaluation_id, entry_id),
  CONSTRAINT fk_field_record_evaluation_id FOREIGN KEY(evaluation_id) REFERENCES evaluation (id),
  CONSTRAINT fk_field_record_sample_id FOREIGN KEY(sample_id) REFERENCES sample (id),
  CONSTRAINT fk_field_record_setup_id FOREIGN KEY(setup_id) REFERENCES setup (id),
  CONSTRAINT fk_field_record_instrument_id FOREIGN KEY(instrument_id) REFERENCES instrument (id),
  CONSTRAINT fk_field_record_setting_id FOREIGN KEY(setting_id) REFERENCES article_setting (id)
);

CREATE TABLE report_revision (
  id INTEGER NOT NULL AUTO_INCREMENT,
  report_id INTEGER NOT NULL,
  number INTEGER NOT NULL,
  title VARCHAR(200) NOT NULL,
  headline VARCHAR(200) NOT NULL,
  reason TEXT NOT NULL,
  published_at DATETIME NOT NULL,
  published_by VARCHAR(200) NOT NULL,
  reviewed_by VARCHAR(200),
  bundle_sha256 VARCHAR(64) NOT NULL,
  bundle LONGBLOB NOT NULL,
  CONSTRAINT pk_report_revision PRIMARY KEY (id),
  CONSTRAINT uq_report_revision_report_id UNIQUE (report_id, number),
  CONSTRAINT fk_report_revision_report_id FOREIGN KEY(report_id) REFERENCES report (id)
);

CREATE TABLE sweep (
  id INTEGER NOT NULL AUTO_INCREMENT,
  evaluation_id INTEGER NOT NULL,
  sample_id INTEGER NOT NULL,
  setup_id INTEGER NOT NULL,
  instrument_id INTEGER NOT NULL,
  raw_file_id INTEGER NOT NULL,
  name VARCHAR(200) NOT NULL,
  file_name VARCHAR(200) NOT NULL,
  format VARCHAR(40) NOT NULL,
  ports INTEGER NOT NULL,
  port INTEGER NOT NULL,
  unit VARCHAR(10) NOT NULL,
  kind VARCHAR(20) NOT NULL,
  columns VARCHAR(200) NOT NULL,
  guessed JSON NOT NULL,
  calibration VARCHAR(20) NOT NULL,
  taken_on VARCHAR(16) NOT NULL,
  calibration_id INTEGER,
  setting_id INTEGER,
  round INTEGER NOT NULL,
  not_adjusted BOOL NOT NULL,
  mounting INTEGER NOT NULL,
  set_aside TEXT NOT NULL,
  raw BOOL NOT NULL,
  segments JSON NOT NULL,
  file_z0_ohm DOUBLE,
  z0_ohm DOUBLE NOT NULL,
  scalar BOOL NOT NULL,
  points INTEGER NOT NULL,
  low_hz DOUBLE NOT NULL,
  high_hz DOUBLE NOT NULL,
  largest_step_hz DOUBLE NOT NULL,
  best_hz DOUBLE NOT NULL,
  best_gamma DOUBLE NOT NULL,
  worst_gamma DOUBLE NOT NULL,
  frequency LONGBLOB NOT NULL,
  gamma LONGBLOB NOT NULL,
  half_step LONGBLOB,
  content BINARY(16),
  created_at DATETIME NOT NULL,
  deleted_at DATETIME,
  CONSTRAINT pk_sweep PRIMARY KEY (id),
  CONSTRAINT fk_sweep_evaluation_id FOREIGN KEY(evaluation_id) REFERENCES evaluation (id),
  CONSTRAINT fk_sweep_sample_id FOREIGN KEY(sample_id) REFERENCES sample (id),
  CONSTRAINT fk_sweep_setup_id FOREIGN KEY(setup_id) REFERENCES setup (id),
  CONSTRAINT fk_sweep_instrument_id FOREIGN KEY(instrument_id) REFERENCES instrument (id),
  CONSTRAINT fk_sweep_raw_file_id FOREIGN KEY(raw_file_id) REFERENCES raw_file (id),
  CONSTRAINT fk_sweep_calibration_id FOREIGN KEY(calibration_id) REFERENCES calibration (id),
  CONSTRAINT fk_sweep_setting_id FOREIGN KEY(setting_id) REFERENCES article_setting (id)
);

CREATE INDEX ix_sweep_extremes ON sweep (evaluation_id, low_hz, high_hz);

CREATE TABLE through_sweep (
  id INTEGER NOT NULL AUTO_INCREMENT,
  evaluation_id INTEGER NOT NULL,
  sample_id INTEGER NOT NULL,
  setup_id INTEGER NOT NULL,
  instrument_id INTEGER NOT NULL,
  raw_file_id INTEGER NOT NULL,
  name VARCHAR(200) NOT NULL,
  file_name VARCHAR(200) NOT NULL,
  fixture VARCHAR(20) NOT NULL,
  taken_on VARCHAR(20) NOT NULL,
  note TEXT NOT NULL,
  set_aside TEXT NOT NULL,
  setting_id INTEGER,
  round INTEGER NOT NULL,
  calibration_id INTEGER,
  deleted_at DATETIME,
  CONSTRAINT pk_through_sweep PRIMARY KEY (id),
  CONSTRAINT fk_through_sweep_evaluation_id FOREIGN KEY(evaluation_id) REFERENCES evaluation (id),
  CONSTRAINT fk_through_sweep_sample_id FOREIGN KEY(sample_id) REFERENCES sample (id),
  CONSTRAINT fk_through_sweep_setup_id FOREIGN KEY(setup_id) REFERENCES setup (id),
  CONSTRAINT fk_through_sweep_instrument_id FOREIGN KEY(instrument_id) REFERENCES instrument (id),
  CONSTRAINT fk_through_sweep_raw_file_id FOREIGN KEY(raw_file_id) REFERENCES raw_file (id),
  CONSTRAINT fk_through_sweep_setting_id FOREIGN KEY(setting_id) REFERENCES article_setting (id),
  CONSTRAINT fk_through_sweep_calibration_id FOREIGN KEY(calibration_id) REFERENCES calibration (id)
);

CREATE INDEX ix_through_sweep_evaluation_id ON through_sweep (evaluation_id);

CREATE TABLE time_strip (
  id INTEGER NOT NULL AUTO_INCREMENT,
  evaluation_id INTEGER NOT NULL,
  sample_id INTEGER NOT NULL,
  setup_id INTEGER NOT NULL,
  instrument_id INTEGER NOT NULL,
  setting_id INTEGER,
  kind VARCHAR(20) NOT NULL,
  wanted_hz JSON NOT NULL,
  points JSON NOT NULL,
  marks JSON NOT NULL,
  begun_at VARCHAR(20) NOT NULL,
  who VARCHAR(200) NOT NULL,
  note TEXT NOT NULL,
  deleted_at DATETIME,
  CONSTRAINT pk_time_strip PRIMARY KEY (id),
  CONSTRAINT fk_time_strip_evaluation_id FOREIGN KEY(evaluation_id) REFERENCES evaluation (id),
  CONSTRAINT fk_time_strip_sample_id FOREIGN KEY(sample_id) REFERENCES sample (id),
  CONSTRAINT fk_time_strip_setup_id FOREIGN KEY(setup_id) REFERENCES setup (id),
  CONSTRAINT fk_time_strip_instrument_id FOREIGN KEY(instrument_id) REFERENCES instrument (id),
  CONSTRAINT fk_time_strip_setting_id FOREIGN KEY(setting_id) REFERENCES article_setting (id)
);

CREATE INDEX ix_time_strip_evaluation_id ON time_strip (evaluation_id);

CREATE TABLE width_reading (
  id INTEGER NOT NULL AUTO_INCREMENT,
  evaluation_id INTEGER NOT NULL,
  sample_id INTEGER NOT NULL,
  setup_id INTEGER NOT NULL,
  instrument_id INTEGER NOT NULL,
  setting_id INTEGER,
  round INTEGER NOT NULL,
  band VARCHAR(200) NOT NULL,
  low_hz DOUBLE NOT NULL,
  high_hz DOUBLE NOT NULL,
  swr DOUBLE NOT NULL,
  best_hz DOUBLE,
  best_swr DOUBLE,
  step_hz DOUBLE NOT NULL,
  taken_on VARCHAR(16) NOT NULL,
  who VARCHAR(200) NOT NULL,
  note TEXT NOT NULL,
  set_aside TEXT NOT NULL,
  deleted_at DATETIME,
  CONSTRAINT pk_width_reading PRIMARY KEY (id),
  CONSTRAINT fk_width_reading_evaluation_id FOREIGN KEY(evaluation_id) REFERENCES evaluation (id),
  CONSTRAINT fk_width_reading_sample_id FOREIGN KEY(sample_id) REFERENCES sample (id),
  CONSTRAINT fk_width_reading_setup_id FOREIGN KEY(setup_id) REFERENCES setup (id),
  CONSTRAINT fk_width_reading_instrument_id FOREIGN KEY(instrument_id) REFERENCES instrument (id),
  CONSTRAINT fk_width_reading_setting_id FOREIGN KEY(setting_id) REFERENCES article_setting (id)
);

CREATE INDEX ix_width_reading_evaluation_id ON width_reading (evaluation_id);

CREATE TABLE picture (
  id INTEGER NOT NULL AUTO_INCREMENT,
  evaluation_id INTEGER NOT NULL,
  claim_id INTEGER,
  setting_id INTEGER,
  raw_file_id INTEGER NOT NULL,
  file_name VARCHAR(200) NOT NULL,
  caption VARCHAR(200) NOT NULL,
  width INTEGER NOT NULL,
  height INTEGER NOT NULL,
  media_type VARCHAR(40) NOT NULL,
  deleted_at DATETIME,
  CONSTRAINT pk_picture PRIMARY KEY (id),
  CONSTRAINT fk_picture_evaluation_id FOREIGN KEY(evaluation_id) REFERENCES evaluation (id),
  CONSTRAINT fk_picture_claim_id FOREIGN KEY(claim_id) REFERENCES claim (id),
  CONSTRAINT fk_picture_setting_id FOREIGN KEY(setting_id) REFERENCES article_setting (id),
  CONSTRAINT fk_picture_raw_file_id FOREIGN KEY(raw_file_id) REFERENCES raw_file (id)
);

CREATE INDEX ix_picture_evaluation_id ON picture (evaluation_id);

CREATE TABLE reading_sheet (
  id INTEGER NOT NULL AUTO_INCREMENT,
  evaluation_id INTEGER NOT NULL,
  sample_id INTEGER NOT NULL,
  setup_id INTEGER NOT NULL,
  instrument_id INTEGER NOT NULL,
  setting_id INTEGER,
  round INTEGER NOT NULL,
  kind VARCHAR(20) NOT NULL,
  sweep_id INTEGER,
  created_at DATETIME NOT NULL,
  deleted_at DATETIME,
  CONSTRAINT pk_reading_sheet PRIMARY KEY (id),
  CONSTRAINT fk_reading_sheet_evaluation_id FOREIGN KEY(evaluation_id) REFERENCES evaluation (id),
  CONSTRAINT fk_reading_sheet_sample_id FOREIGN KEY(sample_id) REFERENCES sample (id),
  CONSTRAINT fk_reading_sheet_setup_id FOREIGN KEY(setup_id) REFERENCES setup (id),
  CONSTRAINT fk_reading_sheet_instrument_id FOREIGN KEY(instrument_id) REFERENCES instrument (id),
  CONSTRAINT fk_reading_sheet_setting_id FOREIGN KEY(setting_id) REFERENCES article_setting (id),
  CONSTRAINT fk_reading_sheet_sweep_id FOREIGN KEY(sweep_id) REFERENCES sweep (id)
);

CREATE INDEX ix_reading_sheet_evaluation_id ON reading_sheet (evaluation_id);

CREATE TABLE trial (
  id INTEGER NOT NULL AUTO_INCREMENT,
  evaluation_id INTEGER NOT NULL,
  entry_id VARCHAR(40) NOT NULL,
  sample_id INTEGER NOT NULL,
  setup_id INTEGER NOT NULL,
  instrument_id INTEGER,
  network_id INTEGER,
  load_sweep_id INTEGER,
  through_id INTEGER,
  frequency_hz DOUBLE NOT NULL,
  load_words VARCHAR(200) NOT NULL,
  power_w DOUBLE,
  from_memory BOOL NOT NULL,
  outcome VARCHAR(20) NOT NULL,
  swr_before DOUBLE,
  swr_after DOUBLE,
  swr_step DOUBLE NOT NULL,
  seconds DOUBLE,
  dials JSON NOT NULL,
  taken_on VARCHAR(20) NOT NULL,
  who VARCHAR(200) NOT NULL,
  note TEXT NOT NULL,
  set_aside TEXT NOT NULL,
  setting_id INTEGER,
  round INTEGER NOT NULL,
  deleted_at DATETIME,
  CONSTRAINT pk_trial PRIMARY KEY (id),
  CONSTRAINT uq_trial_evaluation_id UNIQUE (evaluation_id, entry_id),
  CONSTRAINT fk_trial_evaluation_id FOREIGN KEY(evaluation_id) REFERENCES evaluation (id),
  CONSTRAINT fk_trial_sample_id FOREIGN KEY(sample_id) REFERENCES sample (id),
  CONSTRAINT fk_trial_setup_id FOREIGN KEY(setup_id) REFERENCES setup (id),
  CONSTRAINT fk_trial_instrument_id FOREIGN KEY(instrument_id) REFERENCES instrument (id),
  CONSTRAINT fk_trial_network_id FOREIGN KEY(network_id) REFERENCES tuner_network (id),
  CONSTRAINT fk_trial_load_sweep_id FOREIGN KEY(load_sweep_id) REFERENCES sweep (id),
  CONSTRAINT fk_trial_through_id FOREIGN KEY(through_id) REFERENCES through_sweep (id),
  CONSTRAINT fk_trial_setting_id FOREIGN KEY(setting_id) REFERENCES article_setting (id)
);

CREATE TABLE reading (
  id INTEGER NOT NULL AUTO_INCREMENT,
  sheet_id INTEGER NOT NULL,
  entry_id VARCHAR(40) NOT NULL,
  typed JSON NOT NULL,
  answers JSON NOT NULL,
  made_at VARCHAR(30) NOT NULL,
  made_by VARCHAR(200) NOT NULL,
  received_at DATETIME NOT NULL,
  deleted_at DATETIME,
  CONSTRAINT pk_reading PRIMARY KEY (id),
  CONSTRAINT uq_reading_sheet_id UNIQUE (sheet_id, entry_id),
  CONSTRAINT fk_reading_sheet_id FOREIGN KEY(sheet_id) REFERENCES reading_sheet (id)
);

CREATE TRIGGER report_revision_no_update BEFORE UPDATE ON report_revision FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'a published revision is never changed';

CREATE TRIGGER report_revision_no_delete BEFORE DELETE ON report_revision FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'a published revision is never changed';

CREATE TRIGGER audit_no_update BEFORE UPDATE ON audit FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'what was done is never rewritten';

CREATE TRIGGER audit_no_delete BEFORE DELETE ON audit FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'what was done is never rewritten';

CREATE TRIGGER report_no_delete BEFORE DELETE ON report FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'the address of what is published stays';

CREATE TRIGGER report_no_update BEFORE UPDATE ON report FOR EACH ROW
  IF NEW.id <> OLD.id OR NEW.slug <> OLD.slug OR NEW.team_id <> OLD.team_id OR NEW.evaluation_id <> OLD.evaluation_id
  THEN SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'the address of what is published stays';
  END IF;

CREATE TRIGGER raw_file_no_update BEFORE UPDATE ON raw_file FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'a raw file is never changed';

CREATE TRIGGER raw_file_no_delete BEFORE DELETE ON raw_file FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'a raw file is never changed';

CREATE TRIGGER report_stays_withdrawn BEFORE UPDATE ON report FOR EACH ROW
  IF OLD.withdrawn_at IS NOT NULL AND NOT (NEW.withdrawn_at <=> OLD.withdrawn_at
    AND NEW.withdrawn_by <=> OLD.withdrawn_by AND NEW.withdrawn_reason <=> OLD.withdrawn_reason)
  THEN SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'a withdrawal stays as it was';
  END IF;

CREATE TRIGGER review_stays_answered BEFORE UPDATE ON review FOR EACH ROW
  IF OLD.approved IS NOT NULL OR NEW.content_sha256 <> OLD.content_sha256 OR NEW.asked_by_id <> OLD.asked_by_id
    OR NEW.evaluation_id <> OLD.evaluation_id
  THEN SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'an answer to a review stays as it was';
  END IF;

CREATE TRIGGER review_no_delete BEFORE DELETE ON review FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'an answer to a review stays as it was';
