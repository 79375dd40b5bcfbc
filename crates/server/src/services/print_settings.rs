//! How a job is printed: settings with what they do, ready sets, and how the maker had it last.

use super::session::Session;
use super::workshop::Workshop;
use crate::error::ApiError;
use crate::store;
use crate::wire::{PrintSettingView, PrintSettingsView, ReadySetView, SetChange, SetPrinting};
use std::sync::Arc;
use varichrom_core::job::{Edit, Job, SlotEdit};
use varichrom_core::machine::{Printer, ReadySet, Spool, bed_c, print_settings, with_habit};

impl Session {
    /// All settings of how the job is printed.
    pub(crate) fn print_settings(
        &self,
        workshop: &Workshop,
    ) -> Result<PrintSettingsView, ApiError> {
        let rack = workshop.rack()?;
        let revision = self.revision();
        let job = self.with_job(Job::clone);
        let (printer, plastics) = (&job.printer, plastics(&job, &rack));
        let plastic = in_words(&plastics);
        let usual = printer.printing.ready.of(printer);
        let mut sets: Vec<ReadySetView> = ReadySet::ALL
            .into_iter()
            .map(|set| ReadySetView {
                name: set.name().into(),
                does: set.does().into(),
                is_own: set == printer.printing.ready,
                changes: changes(printer, &set.of(printer)),
                printer: set.of(printer),
            })
            .collect();
        let last = store::habits::last(&mut *workshop.db.get()?, &printer.name, &plastic)?;
        if let Some(last) = last.map(|last| with_habit(printer, &last)) {
            sets.push(ReadySetView {
                name: "As last time".into(),
                does: format!("How {} printed {plastic} last.", printer.name),
                is_own: false,
                changes: changes(printer, &last),
                printer: last,
            });
        }
        let view = |setting: &varichrom_core::machine::PrintSetting| PrintSettingView {
            setting: *setting,
            value: setting.value(printer),
            usual: match setting.field {
                "printing.bed_c" => plastics.iter().map(|p| bed_c(p)).fold(0.0, f64::max).into(),
                _ => setting.value(&usual),
            },
        };
        Ok(PrintSettingsView {
            revision,
            settings: print_settings().map(view).collect(),
            sets: sets
                .into_iter()
                .filter(|s| s.is_own || !s.changes.is_empty())
                .collect(),
        })
    }

    /// Has the job printed another way, as one edit, and remembers it for this printer and plastic.
    pub(crate) fn set_printing(
        self: &Arc<Self>,
        workshop: &Arc<Workshop>,
        to: SetPrinting,
    ) -> Result<(), ApiError> {
        let printer = match to {
            SetPrinting::All { printer } => *printer,
            SetPrinting::Value { field, value } => {
                let setting = print_settings().find(|s| s.field == field);
                let setting = setting.ok_or(ApiError::NotFound("setting"))?;
                self.with_job(|job| setting.set(&job.printer, value))?
            }
        };
        let set = SlotEdit::SetPrinter {
            printer: printer.clone(),
        };
        self.apply(workshop, Edit::Slot(set))?;
        let rack = workshop.rack()?;
        let plastic = self.with_job(|job| in_words(&plastics(job, &rack)));
        store::habits::keep(&mut *workshop.db.get()?, &printer, &plastic)?;
        Ok(())
    }
}

/// The plastics of a job's spools.
fn plastics(job: &Job, rack: &[Spool]) -> Vec<String> {
    let ids = job.slots.iter().chain(&job.feeds).flatten();
    let spools = ids.filter_map(|id| rack.iter().find(|s| s.id == *id));
    let mut names: Vec<String> = spools.map(|s| s.material.to_uppercase()).collect();
    names.sort();
    names.dedup();
    if names.is_empty() {
        names.push("PLA".into());
    }
    names
}

/// Such as “PLA” or “PETG and PLA”.
fn in_words(plastics: &[String]) -> String {
    plastics.join(" and ")
}

/// What would change, setting by setting.
fn changes(from: &Printer, to: &Printer) -> Vec<SetChange> {
    let settings = print_settings();
    let change = |s: &varichrom_core::machine::PrintSetting| {
        let (old, new) = (s.value(from), s.value(to));
        (old != new).then(|| SetChange {
            name: s.name.into(),
            from: s.shown(&old),
            to: s.shown(&new),
        })
    };
    settings.filter_map(change).collect()
}
