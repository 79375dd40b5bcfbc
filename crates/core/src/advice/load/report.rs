//! What a printer says of itself.

use crate::Problem;
use crate::colour::Colour;
use serde::{Deserialize, Serialize};

/// What a printer says it is and holds (docs/stand-in.md).
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct PrinterReport {
    /// Its name.
    pub name: String,
    /// What kind of machine it says it is: `feeder`, `tools`, `by-hand`, `splicer` or `mixing`.
    pub kind: String,
    /// Nozzle bore, mm.
    pub nozzle_mm: f64,
    /// Printable size, mm.
    pub bed_mm: [f64; 3],
    /// Which sheet lies on its bed, if it knows.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub sheet: Option<String>,
    /// Its places for spools, in its own order.
    pub places: Vec<ReportedPlace>,
}

/// One place for a spool.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct ReportedPlace {
    /// Number in the machine, from 1.
    pub place: u8,
    /// What is there.
    pub spool: Option<ReportedSpool>,
}

/// A spool as a printer knows it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct ReportedSpool {
    /// Its name.
    pub name: String,
    /// Its colour.
    pub colour: Colour,
    /// Its plastic.
    pub material: String,
    /// Grams left, if the printer knows.
    pub left_g: Option<f64>,
}

impl PrinterReport {
    /// Reads what a printer answered.
    ///
    /// # Errors
    /// `printer-nonsense` for anything that is no such report, or whose values cannot be.
    pub fn from_json(bytes: &[u8]) -> Result<PrinterReport, Problem> {
        let nonsense = |what: String| {
            Problem::new(
                "printer-nonsense",
                format!("The printer answers with something that cannot be used: {what}"),
                "address",
                "See whether the address is that of the printer, then ask again.",
            )
        };
        let report: PrinterReport =
            serde_json::from_slice(bytes).map_err(|e| nonsense(short(&e.to_string())))?;
        let texts = report.places.iter().filter_map(|p| p.spool.as_ref());
        let is_long = texts
            .flat_map(|s| [&s.name, &s.material])
            .chain([&report.name])
            .chain(&report.sheet)
            .any(|t| t.chars().count() > 100 || t.contains(char::is_control));
        if is_long {
            return Err(nonsense("names over 100 letters".into()));
        }
        if !(0.1..=3.0).contains(&report.nozzle_mm) {
            return Err(nonsense(format!("a nozzle of {} mm", report.nozzle_mm)));
        }
        if report.bed_mm.iter().any(|s| !(10.0..=5000.0).contains(s)) {
            return Err(nonsense("a bed of no usable size".into()));
        }
        let mut numbers: Vec<u8> = report.places.iter().map(|p| p.place).collect();
        numbers.sort_unstable();
        numbers.dedup();
        if numbers.len() != report.places.len() || numbers.len() > 64 || numbers.contains(&0) {
            return Err(nonsense("places that are not numbered from 1".into()));
        }
        let spools = report.places.iter().filter_map(|p| p.spool.as_ref());
        if let Some(left) = spools
            .filter_map(|s| s.left_g)
            .find(|g| !(0.0..=100_000.0).contains(g))
        {
            return Err(nonsense(format!("a spool of {left} g")));
        }
        Ok(report)
    }

    /// What it holds in one of its places.
    pub fn at(&self, place: u8) -> Option<&ReportedSpool> {
        self.places
            .iter()
            .find(|p| p.place == place)?
            .spool
            .as_ref()
    }
}

fn short(text: &str) -> String {
    text.chars().take(120).collect()
}
