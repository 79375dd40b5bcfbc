//! People with a token each, and what each may do.

use super::tokens::SHORTEST_TOKEN;
use crate::error::ApiError;
use crate::wire::Said;
use axum::http::Method;
use serde::{Deserialize, Serialize};
use ts_rs::TS;
use utoipa::ToSchema;

/// What a person may do; each may what those before it may.
#[derive(
    Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, TS, ToSchema,
)]
#[serde(rename_all = "kebab-case")]
pub enum May {
    /// See jobs and take files.
    Look,
    /// Make and change jobs, and ask for a look.
    Work,
    /// Say that a job may be printed, and send it.
    Release,
    /// Keep the rack, the printers and the list of people.
    Keep,
}

/// A person who works here.
#[derive(Clone, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Person {
    /// As the others see it.
    pub name: String,
    /// Secret that lets this person in.
    pub token: String,
    /// What it may do.
    pub may: May,
}

impl std::fmt::Debug for Person {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        // A token is in no log.
        f.debug_struct("Person")
            .field("may", &self.may)
            .finish_non_exhaustive()
    }
}

/// People from JSON: `[{"name": "Ada", "token": "…", "may": "look" | "work" | "release" | "keep"}]`.
///
/// # Errors
/// A sentence, if it is no such list, two share a name or a token, or a token is short.
pub fn read_people(json: &str) -> Result<Vec<Person>, String> {
    let people: Vec<Person> = serde_json::from_str(json)
        .map_err(|e| format!("the list of people cannot be read: {e}"))?;
    for (at, person) in people.iter().enumerate() {
        let name = person.name.trim();
        if name.is_empty() {
            return Err(format!("person {} of the list has no name", at + 1));
        }
        if person.token.chars().count() < SHORTEST_TOKEN {
            return Err(format!(
                "the token of {name} is short: give it {SHORTEST_TOKEN} characters or more"
            ));
        }
        for other in &people[..at] {
            if other.name.trim() == name || other.token == person.token {
                return Err(format!("{name} and {} share a name or a token", other.name));
            }
        }
    }
    Ok(people)
}

/// Who makes a call.
#[derive(Debug, Clone, Serialize, TS, ToSchema)]
pub(crate) struct Caller {
    /// Its name, if the server knows it by its token.
    pub(crate) name: Option<String>,
    /// What it may do.
    pub(crate) may: May,
}

impl Caller {
    pub(super) fn anybody() -> Caller {
        Caller {
            name: None,
            may: May::Keep,
        }
    }

    pub(super) fn of(person: &Person) -> Caller {
        Caller {
            name: Some(person.name.trim().to_string()).filter(|n| !n.is_empty()),
            may: person.may,
        }
    }

    /// # Errors
    /// If the call needs more than this person may.
    pub(super) fn check_may(&self, method: &Method, path: &str) -> Result<(), ApiError> {
        match self.may >= needed(method, path) {
            true => Ok(()),
            false => Err(ApiError::MayNot),
        }
    }

    /// A word before a print, under the caller's own name where the server knows it.
    ///
    /// # Errors
    /// If the word is for others to say.
    pub(crate) fn say(&self, mut said: Said) -> Result<Said, ApiError> {
        if matches!(said, Said::Release { .. } | Said::SendBack { .. }) && self.may < May::Release {
            return Err(ApiError::MayNot);
        }
        let (Said::Ask { by, .. }
        | Said::Release { by }
        | Said::SendBack { by, .. }
        | Said::TakeBack { by }
        | Said::Tick { by, .. }) = &mut said;
        if let Some(name) = &self.name {
            by.clone_from(name);
        }
        Ok(said)
    }
}

/// What a call needs. What a job's release says is looked at where it is read.
fn needed(method: &Method, path: &str) -> May {
    let call = path.strip_prefix("/api/").unwrap_or_default();
    if matches!(*method, Method::GET | Method::HEAD | Method::OPTIONS) {
        return May::Look;
    }
    let is_of = |names: &[&str]| {
        names
            .iter()
            .any(|n| call == *n || call.starts_with(&format!("{n}/")))
    };
    if is_of(&["rack", "printers", "people"]) || call.ends_with("/key") {
        return May::Keep;
    }
    if call.ends_with("/sent") {
        return May::Release;
    }
    // Questions that are long enough to be posted.
    const QUESTIONS: [&str; 4] = ["/preview", "/parts/try", "/mend-preview", "/plan/start"];
    match call == "flat" || QUESTIONS.iter().any(|q| call.ends_with(q)) {
        true => May::Look,
        false => May::Work,
    }
}
