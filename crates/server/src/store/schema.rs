//! Tables as the migrations make them.

diesel::table! {
    contents (hash) {
        hash -> Text,
        bytes -> Binary,
    }
}

diesel::table! {
    jobs (id) {
        id -> Integer,
        name -> Text,
        head -> Integer,
        floor -> Integer,
        summary -> Text,
        changed_at -> Timestamp,
    }
}

diesel::table! {
    edits (job_id, seq) {
        job_id -> Integer,
        seq -> Integer,
        body -> Text,
    }
}

diesel::table! {
    spools (id) {
        id -> Text,
        position -> Integer,
        body -> Text,
    }
}

diesel::table! {
    printers (id) {
        id -> Text,
        position -> Integer,
        body -> Text,
    }
}

diesel::table! {
    ledger (id) {
        id -> Integer,
        spool -> Text,
        job -> Text,
        grams -> Double,
        printed_at -> Timestamp,
    }
}

diesel::table! {
    palettes (name) {
        name -> Text,
        position -> Integer,
        body -> Text,
    }
}

diesel::table! {
    desks (job_id) {
        job_id -> Integer,
        body -> Text,
    }
}
