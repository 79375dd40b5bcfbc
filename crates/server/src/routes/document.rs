//! What holds for many calls alike, put into their document: the names in their addresses, and what any of them may be refused with.

use serde_json::{Map, Value, json};

/// Names in addresses that are words and not numbers, with the start of the address where that matters.
const WORDS: [(&str, &str); 5] = [
    ("{region}", "/api/jobs/{id}/regions"),
    ("{kind}", ""),
    ("{what}", ""),
    ("{file}", "/api/jobs/{id}/files"),
    ("{file}", "/api/rack"),
];

/// Refusals of calls of every kind.
const OF_ALL: [(&str, &str); 5] = [
    ("401", "A token is asked for"),
    (
        "403",
        "The call comes from where it must not, or is for others to do",
    ),
    ("500", "A fault of the server; it is logged"),
    (
        "503",
        "Too much is going on; `retry-after` says when to try again",
    ),
    ("504", "It took too long, and the answer was given up"),
];

/// Refusals of calls whose address, question or body can be wrong.
const OF_CONTENT: [(&str, &str); 4] = [
    ("404", "There is no such thing"),
    (
        "409",
        "What it was asked of has changed, or is not there yet",
    ),
    ("413", "It is more than is taken in"),
    ("422", "It cannot be read, or cannot be done"),
];

/// Completes the document of all calls.
pub(crate) fn completed(mut document: Value) -> Value {
    if let Some(paths) = document["paths"].as_object_mut() {
        for (path, calls) in paths {
            let names = in_address(path);
            for call in calls.as_object_mut().into_iter().flat_map(Map::values_mut) {
                complete(call, &names);
            }
        }
    }
    document
}

/// The parameters that stand in an address.
fn in_address(path: &str) -> Vec<Value> {
    let names = path
        .split('/')
        .filter(|s| s.starts_with('{') && s.ends_with('}'));
    let parameter = |name: &str| {
        let is_word = WORDS
            .iter()
            .any(|(word, start)| *word == name && path.starts_with(start));
        let schema = match is_word {
            true => json!({ "type": "string" }),
            false => json!({ "type": "integer", "format": "int64", "minimum": 0 }),
        };
        let name = name.trim_matches(['{', '}']);
        json!({ "name": name, "in": "path", "required": true, "schema": schema })
    };
    names.map(parameter).collect()
}

fn complete(call: &mut Value, names: &[Value]) {
    let mut parameters = names.to_vec();
    if let Some(own) = call["parameters"].as_array() {
        parameters.extend(own.iter().cloned());
    }
    let takes_body = call.get("requestBody").is_some();
    let may_be_wrong = takes_body || !parameters.is_empty();
    if !parameters.is_empty() {
        call["parameters"] = Value::Array(parameters);
    }
    let refusals = OF_ALL
        .iter()
        .chain(OF_CONTENT.iter().filter(|_| may_be_wrong));
    for (status, what) in refusals {
        let known = &mut call["responses"][*status];
        if known.is_null() {
            *known = json!({ "description": what });
        }
    }
    // Every refusal says what is wrong, where, and what to do.
    for (status, answer) in call["responses"].as_object_mut().into_iter().flatten() {
        let is_refusal = status.starts_with('4') || status.starts_with('5');
        if is_refusal && answer.get("content").is_none() {
            let schema = json!({ "$ref": "#/components/schemas/Problem" });
            answer["content"] = json!({ "application/json": { "schema": schema } });
        }
    }
}
