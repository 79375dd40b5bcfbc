//! What the printer says against what the job asks for.

use super::check::{Level, LoadCheck, LoadMend};
use super::checks::Checking;
use super::needs::spool_needs;
use super::report::PrinterReport;
use super::use_loaded::{is_same, on_rack};
use crate::job::{Edit, SlotEdit};
use crate::machine::Printer;

impl Checking<'_> {
    /// What the printer says against what the job asks for.
    pub(super) fn reported(&self, report: &PrinterReport, found: &mut Vec<LoadCheck>) {
        let printer = &self.job.printer;
        let set = |printer: Printer| Edit::Slot(SlotEdit::SetPrinter { printer });
        let before = found.len();
        if (report.nozzle_mm - printer.nozzle_mm).abs() > 1e-6 {
            let message = format!(
                "{} has a {} mm nozzle; the job is planned for {} mm.",
                report.name, report.nozzle_mm, printer.nozzle_mm
            );
            let mut other = printer.clone();
            other.nozzle_mm = report.nozzle_mm;
            other.line_width_mm = printer.line_width_mm * report.nozzle_mm / printer.nozzle_mm;
            let label = format!("Plan for {} mm", report.nozzle_mm);
            found.push(
                LoadCheck::new("nozzle-differs", Level::Wrong, message).by(label, set(other)),
            );
        }
        let size = self.job.bounds().size();
        if (0..3).any(|i| report.bed_mm[i] < printer.bed_mm[i] - 1e-6) {
            let [x, y, z] = report.bed_mm;
            let is_too_small = (0..3).any(|i| size[i] > report.bed_mm[i]);
            let message = format!(
                "{} prints up to {x} × {y} × {z} mm, less than the job is planned for{}.",
                report.name,
                if is_too_small {
                    ", and the model is larger"
                } else {
                    ""
                }
            );
            let mut other = printer.clone();
            other.bed_mm = report.bed_mm;
            let level = if is_too_small {
                Level::Wrong
            } else {
                Level::Look
            };
            found.push(
                LoadCheck::new("bed-differs", level, message).by("Plan for this bed", set(other)),
            );
        }
        let is = serde_json::to_value(printer.kind).ok();
        let kind = is
            .as_ref()
            .and_then(|v| v["is"].as_str())
            .unwrap_or_default();
        if kind != report.kind {
            let message = format!(
                "{} says it is another kind of machine: {}, not {kind}.",
                report.name, report.kind
            );
            found.push(LoadCheck::new("kind-differs", Level::Wrong, message));
        }
        let needs = self.plan.map(|p| spool_needs(self.job, self.rack, p));
        for (n, place) in self.job.places.iter().enumerate() {
            let Some(wanted) = self.spool(n).filter(|_| self.is_used(n)) else {
                continue;
            };
            let here = format!("{} {place}", self.word);
            let needed = needs.as_ref().map_or(0.0, |all| all[n].grams());
            let check = match report.at(*place) {
                None => LoadCheck::new(
                    "printer-slot-empty",
                    Level::Wrong,
                    format!("{here} is empty in the printer; the job wants {}.", wanted.name),
                )
                .in_brief("empty in the printer")
                .with(LoadMend::UseLoaded),
                Some(there) if !is_same(wanted, there) => LoadCheck::new(
                    "printer-slot-differs",
                    Level::Wrong,
                    format!("{here} holds {}; the job wants {}.", there.name, wanted.name),
                )
                .in_brief(format!("printer holds {}", there.name))
                .with(LoadMend::UseLoaded),
                Some(there) => match there.left_g.filter(|left| *left < needed) {
                    Some(left) => LoadCheck::new(
                        "printer-spool-short",
                        Level::Wrong,
                        format!(
                            "{here}: the printer has {left:.0} g of {}; the job needs {needed:.1} g.",
                            there.name
                        ),
                    )
                    .in_brief(format!("printer has {left:.0} g of {needed:.1} g"))
                    .with(LoadMend::AskAgain),
                    None => continue,
                },
            };
            found.push(check.at(n as u8 + 1));
        }
        if found.len() == before {
            let message = format!("{} holds what the job wants.", report.name);
            found.push(LoadCheck::new("printer-fine", Level::Fine, message));
        }
        for reported in report.places.iter().filter_map(|p| p.spool.as_ref()) {
            if on_rack(self.rack, reported).is_none() {
                let message = format!("{} is in the printer, but not on the rack.", reported.name);
                found.push(LoadCheck::new("spool-not-on-rack", Level::Look, message));
            }
        }
    }
}
