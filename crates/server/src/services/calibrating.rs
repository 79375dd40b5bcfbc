//! What a printer learns from prints that were watched: its melt zone, and its pace.

use super::session::Session;
use super::workshop::Workshop;
use crate::error::ApiError;
use std::sync::Arc;
use varichrom_core::Problem;
use varichrom_core::job::{Edit, SlotEdit};
use varichrom_core::machine::Printer;
use varichrom_core::plan::timed_printer;
use varichrom_core::rinse::{Calibration, Measured, NoFit, calibrate};

impl Session {
    /// Fits a melt zone to measured rinses; kept with the printer if asked.
    ///
    /// # Errors
    /// `calibration-no-fit`, with what is off.
    pub(crate) fn calibrate(
        self: &Arc<Self>,
        workshop: &Arc<Workshop>,
        rinses: &[Measured],
        keep: bool,
    ) -> Result<Calibration, ApiError> {
        let mut printer = self.with_job(|job| job.printer.clone());
        if let Some(why) = printer.abilities().no_rinse {
            let mend = "Choose a printer with one nozzle.";
            return Err(Problem::new("nothing-to-rinse", why, "printer", mend).into());
        }
        let fit = calibrate(rinses, printer.melt).map_err(|e| no_fit(&e))?;
        if keep {
            printer.melt = fit.melt;
            printer.rinses = rinses.to_vec();
            self.keep_printer(workshop, printer)?;
        }
        Ok(fit)
    }

    /// Sets the printer's time factor from how long this very job took.
    pub(crate) fn known_time(
        self: &Arc<Self>,
        workshop: &Arc<Workshop>,
        real_s: f64,
    ) -> Result<(), ApiError> {
        let plan = self.ready_plan()?;
        let printer = self.with_job(|job| timed_printer(&job.printer, &plan, real_s))?;
        self.keep_printer(workshop, printer)
    }

    /// Gives the job a printer that has learnt something, and keeps what it learnt with the maker's printer of that name.
    fn keep_printer(
        self: &Arc<Self>,
        workshop: &Arc<Workshop>,
        printer: Printer,
    ) -> Result<(), ApiError> {
        self.apply(
            workshop,
            Edit::Slot(SlotEdit::SetPrinter {
                printer: printer.clone(),
            }),
        )?;
        workshop.with_printers(None, |own| {
            if let Some((_, known)) = own.iter_mut().find(|p| p.1.name == printer.name) {
                known.melt = printer.melt;
                known.rinses = printer.rinses;
                known.time_factor = printer.time_factor;
            }
            Ok(())
        })
    }
}

fn no_fit(error: &NoFit) -> Problem {
    let (place, mend) = match error {
        NoFit::Nothing => ("rinses".into(), "Type one measured rinse at least."),
        NoFit::Value(n) => (
            format!("rinse {n}"),
            "Type a length above 0 mm and a difference from 0.1 to 50.",
        ),
        NoFit::Alike(n) => (
            format!("rinse {n}"),
            "Take two colours that differ clearly.",
        ),
        NoFit::Contradiction { worst, .. } => (
            format!("rinse {worst}"),
            "Measure that rinse again, or leave it out.",
        ),
        NoFit::Size(_) => (
            "rinses".into(),
            "No nozzle holds that much or that little: look whether the lengths are in mm of filament.",
        ),
    };
    Problem::new("calibration-no-fit", error.to_string(), place, mend)
}
