DROP TABLE job_states;
