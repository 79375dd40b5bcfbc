//! The rack and the printers: what the maker owns.

use super::workshop::{Workshop, shelf_of};
use crate::error::ApiError;
use crate::store;
use crate::store::revisions::Counted;
use crate::wire::{
    JobRun, OwnPrinter, PrinterChange, PrintersView, RackChange, RackImported, RackView, SpoolUse,
};
use diesel::sqlite::SqliteConnection;
use std::sync::Arc;
use varichrom_core::machine::{
    MATERIALS, Printer, Spool, rack_from_csv, rack_from_json, rack_to_csv, rack_to_json,
};
use varichrom_core::{Problem, ProblemSort};

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
        // Before the spools: whoever changes what came later is told.
        let revision = store::revisions::revision(&mut *self.db.get()?, Counted::Rack)?;
        let printed = store::rack::ledger(&mut *self.db.get()?)?;
        let planned = self.shelf()?.into_iter().flat_map(|job| {
            let name = job.name;
            job.spools.into_iter().map(move |(spool, grams)| SpoolUse {
                spool,
                job: name.clone(),
                grams,
                printed_at_s: None,
                run: None,
            })
        });
        let printed = printed.into_iter().map(|line| SpoolUse {
            spool: line.spool,
            job: line.job,
            grams: Some(line.grams),
            printed_at_s: Some(line.printed_at_s),
            run: line.job_id.zip(line.run).map(|(job, run)| JobRun {
                job,
                run: u32::try_from(run).unwrap_or(0),
            }),
        });
        Ok(RackView {
            revision,
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
        self.with_rack(None, |old| {
            *old = rack.to_vec();
            Ok(())
        })
    }

    /// Changes spools one by one, all changes or none. `revision`: the state of the rack they were made for.
    ///
    /// # Errors
    /// `rack-changed` if the rack is another by now; else as for [`Workshop::set_rack`].
    pub(crate) fn change_rack(
        self: &Arc<Self>,
        revision: u32,
        changes: Vec<RackChange>,
    ) -> Result<(), ApiError> {
        self.with_rack(Some(revision), |rack| {
            changes.into_iter().try_for_each(|c| c.make(rack))
        })
    }

    /// Changes the rack in one transaction.
    fn with_rack(
        self: &Arc<Self>,
        revision: Option<u32>,
        change: impl FnOnce(&mut Vec<Spool>) -> Result<(), Problem>,
    ) -> Result<(), ApiError> {
        let is_changed = self.db.get()?.immediate_transaction(|c| {
            check_revision(c, Counted::Rack, revision)?;
            let before = store::rack::list(c)?;
            let mut rack = before.clone();
            change(&mut rack)?;
            if rack == before {
                return Ok::<bool, ApiError>(false);
            }
            for (index, spool) in rack.iter().enumerate() {
                spool.check()?;
                if rack[..index].iter().any(|s| s.id == spool.id) {
                    let message = format!("Two spools have the id {}", spool.id);
                    let problem = Problem::new("spool-exists", message, "id", "Use another id.");
                    return Err(ApiError::from(problem));
                }
            }
            let mut gone = before.iter().filter(|s| rack.iter().all(|r| r.id != s.id));
            if gone.clone().next().is_some() {
                let shelf = shelf_of(store::jobs::list(c, false)?);
                for job in shelf {
                    let is_used = |s: &&Spool| job.spools.iter().any(|(id, _)| *id == s.id);
                    if let Some(spool) = gone.find(is_used) {
                        let message = format!("{} is loaded in the job {}", spool.name, job.name);
                        let mend = "Archive it instead, or take it out of that job first.";
                        return Err(Problem::new("spool-in-use", message, &spool.id, mend).into());
                    }
                }
            }
            store::rack::write(c, &before, &rack)?;
            Ok(true)
        })?;
        if is_changed {
            self.replan_all();
        }
        Ok(())
    }

    /// Puts those spools on the rack that it lacks; those that are there stay as they are.
    ///
    /// # Errors
    /// The first spool that cannot be.
    pub(super) fn add_spools(self: &Arc<Self>, new: Vec<Spool>) -> Result<(), ApiError> {
        self.with_rack(None, |rack| {
            for spool in new {
                if rack.iter().all(|s| s.id != spool.id) {
                    rack.push(spool);
                }
            }
            Ok(())
        })
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
        let mut done = RackImported {
            added: 0,
            replaced: 0,
        };
        self.with_rack(None, |rack| {
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
            Ok(())
        })?;
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
        let mut c = self.db.get()?;
        let kept = store::printers::list(&mut c)?;
        Ok(PrintersView {
            revision: store::revisions::revision(&mut c, Counted::Printers)?,
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
        self.with_printers(None, |all| {
            *all = printers.to_vec();
            Ok(())
        })
    }

    /// Changes printers one by one, all changes or none. `revision`: the state that they were made for.
    ///
    /// # Errors
    /// `printers-changed` if they are others by now; else as for [`Workshop::set_printers`].
    pub(crate) fn change_printers(
        &self,
        revision: u32,
        changes: Vec<PrinterChange>,
    ) -> Result<(), ApiError> {
        self.with_printers(Some(revision), |all| {
            changes.into_iter().try_for_each(|c| c.make(all))
        })
    }

    /// Changes the printers in one transaction.
    pub(super) fn with_printers(
        &self,
        revision: Option<u32>,
        change: impl FnOnce(&mut Vec<(String, Printer)>) -> Result<(), Problem>,
    ) -> Result<(), ApiError> {
        self.db.get()?.immediate_transaction(|c| {
            check_revision(c, Counted::Printers, revision)?;
            let before = store::printers::list(c)?;
            let mut printers = before.clone();
            change(&mut printers)?;
            for (index, (id, printer)) in printers.iter().enumerate() {
                printer.check()?;
                let name = printer.name.trim();
                if id.trim().is_empty() || name.is_empty() || name.chars().count() > 100 {
                    let message = "A printer needs a name of up to 100 characters";
                    return Err(Problem::new("name-empty", message, "name", "Type a name.").into());
                }
                if printers[..index].iter().any(|p| p.0 == *id) {
                    let message = format!("Two printers have the id {id}");
                    let problem = Problem::new("printer-exists", message, "id", "Use another id.");
                    return Err(ApiError::from(problem));
                }
            }
            Ok(store::printers::write(c, &before, &printers)?)
        })
    }
}

/// Whether a change was made for the state that there is.
fn check_revision(
    c: &mut SqliteConnection,
    of: Counted,
    seen: Option<u32>,
) -> Result<(), ApiError> {
    let now = store::revisions::revision(c, of)?;
    if seen.is_none_or(|seen| seen == now) {
        return Ok(());
    }
    let (code, what) = match of {
        Counted::Rack => ("rack-changed", "The rack was"),
        Counted::Printers => ("printers-changed", "The printers were"),
    };
    let message = format!("{what} changed elsewhere meanwhile");
    let mend = "Look at what there is now, and do it once more.";
    let changed = Problem::new(code, message, "revision", mend);
    Err(changed.of(ProblemSort::Outdated).into())
}

impl RackChange {
    fn make(self, rack: &mut Vec<Spool>) -> Result<(), Problem> {
        let unknown = |id: &str| {
            let message = format!("There is no spool {id} on the rack");
            Problem::new(
                "spool-unknown",
                message,
                "id",
                "Choose a spool of the rack.",
            )
        };
        match self {
            RackChange::Add { spool } => rack.push(spool),
            RackChange::Change { id, fields } => {
                let spool = rack.iter_mut().find(|s| s.id == id);
                let spool = spool.ok_or_else(|| unknown(&id))?;
                let mut whole = serde_json::to_value(&*spool).unwrap_or_default();
                for (field, value) in fields.into_iter().filter(|(f, _)| f != "id") {
                    whole[field] = value;
                }
                *spool = serde_json::from_value(whole).map_err(|e| {
                    let message = format!("The spool cannot be changed so: {e}");
                    let mend = "Send fields of a spool with values of their kind.";
                    Problem::new("spool-unreadable", message, "fields", mend)
                })?;
            }
            RackChange::Remove { id } => {
                let at = rack.iter().position(|s| s.id == id);
                rack.remove(at.ok_or_else(|| unknown(&id))?);
            }
        }
        Ok(())
    }
}

impl PrinterChange {
    fn make(self, printers: &mut Vec<(String, Printer)>) -> Result<(), Problem> {
        let find = |printers: &[(String, Printer)], id: &str| {
            let at = printers.iter().position(|p| p.0 == id);
            at.ok_or_else(|| {
                let message = format!("There is no printer {id}");
                Problem::new(
                    "printer-unknown",
                    message,
                    "id",
                    "Choose one of your printers.",
                )
            })
        };
        match self {
            PrinterChange::Add { id, printer } => printers.push((id, printer)),
            PrinterChange::Change { id, printer } => {
                let at = find(printers, &id)?;
                printers[at].1 = printer;
            }
            PrinterChange::Remove { id } => {
                let at = find(printers, &id)?;
                printers.remove(at);
            }
        }
        Ok(())
    }
}
