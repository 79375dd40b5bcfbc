//! What a machine says of itself, and what a person says to it.

use serde::{Deserialize, Serialize};

/// How a machine is at the moment.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[serde(tag = "is", rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum Status {
    /// It goes on.
    Running,
    /// It stands until it is told to go on.
    Waits(Standstill),
    /// All is done.
    Done,
    /// It was told to stop.
    Stopped,
    /// The power is gone; what lies there lies there.
    Dead,
}

/// Why a machine stands.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Standstill {
    /// What a person should do.
    pub words: String,
    /// Slot that it is about, from 1.
    pub slot: Option<u8>,
    /// Whether the file asks for it; else something went wrong.
    pub is_planned: bool,
}

/// What a person does where a machine stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(tag = "do", rename_all = "kebab-case", deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum Answer {
    /// What was asked for, and on.
    GoOn,
    /// The spool of another slot instead, and on.
    Use {
        /// From 1.
        slot: u8,
    },
    /// No further.
    Stop,
}

/// How a happening is to be taken.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[serde(rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum HowItWent {
    /// As it should.
    Fine,
    /// Worth a look.
    Look,
    /// Wrong.
    Wrong,
}

/// Something that happened.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Happening {
    /// When, s from the start.
    pub s: f64,
    /// In which layer, from 0.
    pub layer: usize,
    /// Line of the file, from 1.
    pub line: u32,
    /// How it is to be taken.
    pub how: HowItWent,
    /// What, in words.
    pub words: String,
}
