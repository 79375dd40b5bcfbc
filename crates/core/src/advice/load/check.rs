//! What a check says, and how it is mended.

use crate::job::Edit;
use serde::Serialize;

/// How bad something is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize)]
#[serde(rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum Level {
    /// The print would go wrong.
    Wrong,
    /// It is worth a look.
    Look,
    /// It is as it should be.
    Fine,
}

/// What can be done about something in one click.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[serde(tag = "by", rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum LoadMend {
    /// By an edit.
    Edit {
        /// What the button says.
        label: String,
        /// The edit.
        edit: Box<Edit>,
    },
    /// By taking what the printer holds.
    UseLoaded,
    /// By asking the printer again.
    AskAgain,
    /// By looking at the regions on the bench.
    Show {
        /// What the button says.
        label: String,
        /// A place to look at, mm.
        at: Option<[f64; 3]>,
    },
}

/// One thing that was checked.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct LoadCheck {
    /// Its kind, lasting, such as `spool-short`.
    pub code: &'static str,
    /// How bad it is.
    pub level: Level,
    /// What is the matter, in one sentence.
    pub message: String,
    /// The same in a few words, for the slot itself.
    pub brief: String,
    /// What to do.
    pub mend: Option<LoadMend>,
    /// The slot or feed it is about, from 1.
    pub place: Option<u8>,
    /// Keys of the regions it is about.
    pub regions: Vec<String>,
}

impl LoadCheck {
    pub(super) fn new(code: &'static str, level: Level, message: String) -> LoadCheck {
        LoadCheck {
            code,
            level,
            message,
            brief: String::new(),
            mend: None,
            place: None,
            regions: Vec::new(),
        }
    }

    pub(super) fn by(mut self, label: impl Into<String>, edit: Edit) -> LoadCheck {
        self.mend = Some(LoadMend::Edit {
            label: label.into(),
            edit: Box::new(edit),
        });
        self
    }

    pub(super) fn with(mut self, mend: LoadMend) -> LoadCheck {
        self.mend = Some(mend);
        self
    }

    pub(super) fn at(mut self, place: u8) -> LoadCheck {
        self.place = Some(place);
        self
    }

    pub(super) fn in_brief(mut self, words: impl Into<String>) -> LoadCheck {
        self.brief = words.into();
        self
    }

    pub(super) fn of(mut self, regions: Vec<String>) -> LoadCheck {
        self.regions = regions;
        self
    }
}
