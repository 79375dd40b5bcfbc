//! The rack and the printers: what the maker owns.

use super::workshop::Workshop;
use crate::error::ApiError;
use crate::store;
use crate::wire::{OwnPrinter, PrintersView, RackImported, RackView, SpoolUse};
use std::sync::Arc;
use varichrom_core::Problem;
use varichrom_core::machine::{
    MATERIALS, Printer, Spool, rack_from_csv, rack_from_json, rack_to_csv, rack_to_json,
};

/// As what a rack travels.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum RackFormat {
    Csv,
    Json,
}

impl Workshop {
    /// The spools, archived ones included.
    pub fn rack(&self) -> Result<Vec<Spool>, ApiError> {
        Ok(store::rack::list(&mut *self.db.get()?)?)
    }

    /// The rack with what is known of plastics, and what jobs take from it.
    pub(crate) fn rack_view(&self) -> Result<RackView, ApiError> {
        let printed = store::rack::ledger(&mut *self.db.get()?)?;
        let planned = self.shelf()?.into_iter().flat_map(|job| {
            let name = job.name;
            job.spools.into_iter().map(move |(spool, grams)| SpoolUse {
                spool,
                job: name.clone(),
                grams,
                printed_at_s: None,
            })
        });
        let printed = printed.into_iter().map(|line| SpoolUse {
            spool: line.spool,
            job: line.job,
            grams: Some(line.grams),
            printed_at_s: Some(line.printed_at_s),
        });
        Ok(RackView {
            spools: self.rack()?,
            materials: MATERIALS.to_vec(),
            uses: planned.chain(printed).collect(),
        })
    }

    /// Replaces the rack; plans that use it are made anew.
    ///
    /// # Errors
    /// The first spool that cannot be; two with one id; one that is gone although a job has it loaded.
    pub fn set_rack(self: &Arc<Self>, rack: &[Spool]) -> Result<(), ApiError> {
        for (index, spool) in rack.iter().enumerate() {
            spool.check()?;
            if rack[..index].iter().any(|s| s.id == spool.id) {
                let message = format!("Two spools have the id {}", spool.id);
                return Err(Problem::new("spool-exists", message, "id", "Use another id.").into());
            }
        }
        let gone = self
            .rack()?
            .into_iter()
            .filter(|s| rack.iter().all(|r| r.id != s.id));
        let gone: Vec<Spool> = gone.collect();
        if !gone.is_empty() {
            for job in self.shelf()? {
                let is_used = |s: &&Spool| job.spools.iter().any(|(id, _)| *id == s.id);
                if let Some(spool) = gone.iter().find(is_used) {
                    let message = format!("{} is loaded in the job {}", spool.name, job.name);
                    let mend = "Archive it instead, or take it out of that job first.";
                    return Err(Problem::new("spool-in-use", message, &spool.id, mend).into());
                }
            }
        }
        store::rack::replace(&mut *self.db.get()?, rack)?;
        self.replan_all();
        Ok(())
    }

    /// Brings in spools from a file: those whose id is on the rack are replaced, the others added at its end.
    pub(crate) fn import_rack(
        self: &Arc<Self>,
        format: RackFormat,
        bytes: &[u8],
    ) -> Result<RackImported, ApiError> {
        let new = match format {
            RackFormat::Csv => rack_from_csv(bytes),
            RackFormat::Json => rack_from_json(bytes),
        }?;
        let mut rack = self.rack()?;
        let mut done = RackImported {
            added: 0,
            replaced: 0,
        };
        for spool in new {
            match rack.iter_mut().find(|s| s.id == spool.id) {
                Some(old) => {
                    *old = spool;
                    done.replaced += 1;
                }
                None => {
                    rack.push(spool);
                    done.added += 1;
                }
            }
        }
        self.set_rack(&rack)?;
        Ok(done)
    }

    /// The rack as a file.
    pub(crate) fn export_rack(&self, format: RackFormat) -> Result<String, ApiError> {
        let rack = self.rack()?;
        Ok(match format {
            RackFormat::Csv => rack_to_csv(&rack),
            RackFormat::Json => rack_to_json(&rack),
        })
    }

    /// The maker's printers; before any were kept, the examples.
    pub(crate) fn printers(&self) -> Result<PrintersView, ApiError> {
        let kept = store::printers::list(&mut *self.db.get()?)?;
        Ok(PrintersView {
            printers: kept
                .into_iter()
                .map(|(id, printer)| OwnPrinter { id, printer })
                .collect(),
            examples: Printer::examples(),
        })
    }

    /// Whether the maker has set up no printer.
    pub fn has_no_printers(&self) -> Result<bool, ApiError> {
        Ok(store::printers::list(&mut *self.db.get()?)?.is_empty())
    }

    /// Replaces the printers. Jobs keep theirs as they are.
    ///
    /// # Errors
    /// The first printer that cannot be, or two with one id.
    pub fn set_printers(&self, printers: &[(String, Printer)]) -> Result<(), ApiError> {
        for (index, (id, printer)) in printers.iter().enumerate() {
            printer.check()?;
            let name = printer.name.trim();
            if id.trim().is_empty() || name.is_empty() || name.chars().count() > 100 {
                let message = "A printer needs a name of up to 100 characters";
                return Err(Problem::new("name-empty", message, "name", "Type a name.").into());
            }
            if printers[..index].iter().any(|p| p.0 == *id) {
                let message = format!("Two printers have the id {id}");
                return Err(
                    Problem::new("printer-exists", message, "id", "Use another id.").into(),
                );
            }
        }
        Ok(store::printers::replace(&mut *self.db.get()?, printers)?)
    }
}
