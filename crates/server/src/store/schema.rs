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
        revision -> Integer,
        runs -> Integer,
        tags -> Text,
        is_archived -> Bool,
        deleted_at -> Nullable<Timestamp>,
    }
}

diesel::table! {
    job_contents (job_id, seq, hash) {
        job_id -> Integer,
        seq -> Integer,
        hash -> Text,
    }
}

diesel::table! {
    job_states (job_id, after_edits) {
        job_id -> Integer,
        after_edits -> Integer,
        mark -> Text,
        body -> Binary,
    }
}

diesel::table! {
    revisions (name) {
        name -> Text,
        revision -> Integer,
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
        job_id -> Nullable<Integer>,
        run -> Nullable<Integer>,
        taken -> Double,
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

diesel::table! {
    print_habits (printer, plastic) {
        printer -> Text,
        plastic -> Text,
        body -> Text,
    }
}

diesel::table! {
    printer_keys (address) {
        address -> Text,
        key -> Text,
    }
}

diesel::table! {
    people (name) {
        name -> Text,
    }
}

diesel::table! {
    looks (id) {
        id -> Integer,
        job_id -> Integer,
        revision -> Integer,
        body -> Text,
        said_at -> Timestamp,
    }
}

diesel::table! {
    sliced (id) {
        id -> Integer,
        job_id -> Integer,
        name -> Text,
        body -> Text,
        text -> Text,
        differences -> Nullable<Text>,
        kept_at -> Timestamp,
    }
}

diesel::table! {
    runs (job_id, run) {
        job_id -> Integer,
        run -> Integer,
        revision -> Integer,
        planned_s -> Nullable<Double>,
        took_s -> Nullable<Double>,
        note -> Text,
        photo -> Nullable<Binary>,
        printed_at -> Timestamp,
    }
}

diesel::table! {
    pictures (job_id) {
        job_id -> Integer,
        revision -> Integer,
        png -> Binary,
    }
}

diesel::joinable!(looks -> jobs (job_id));
diesel::joinable!(pictures -> jobs (job_id));
diesel::allow_tables_to_appear_in_same_query!(pictures, jobs);
diesel::allow_tables_to_appear_in_same_query!(looks, jobs);
diesel::allow_tables_to_appear_in_same_query!(contents, job_contents);
