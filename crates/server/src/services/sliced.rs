//! Print files from elsewhere: kept with a job, read on its printer, set against its plan, and put right.

use super::rehearsing::ToRehearse;
use super::session::Session;
use super::workshop::{Workshop, lock};
use crate::error::ApiError;
use crate::store;
use crate::wire::{
    AboutFile, FileJob, JobEvent, KeptFile, KeptFileView, MadeFile, RewriteFiles, RewrittenView,
    SayOfFile,
};
use std::sync::{Arc, Mutex};
use varichrom_core::Problem;
use varichrom_core::advice::load::Level;
use varichrom_core::gcode::difference_text;
use varichrom_core::handover::{
    OpenedFile, RewriteAsked, opened_file, rehearsal_setup_of_file, rewritten_for,
};
use varichrom_core::job::Job;
use varichrom_core::rehearsal::Trouble;

/// Files kept with a job.
const MOST_FILES: usize = 40;

/// Places of difference that travel with an answer; all of them can be taken as a text.
const SHOWN: usize = 200;

/// The file that was read last: what it was read for, and what was found.
#[derive(Default)]
pub(super) struct Opened(Mutex<Option<(ReadFor, Arc<OpenedFile>)>>);

/// File, revision, whether there was a plan, tools and turns.
type ReadFor = (i32, u32, bool, String);

impl Session {
    /// The print files that are kept with this job.
    pub(crate) fn kept_files(&self, workshop: &Workshop) -> Result<Vec<KeptFile>, ApiError> {
        Ok(store::sliced::of_job(
            &mut *workshop.db.get()?,
            self.id,
            None,
        )?)
    }

    fn kept_file(&self, workshop: &Workshop, file: i32) -> Result<KeptFile, ApiError> {
        let found = store::sliced::of_job(&mut *workshop.db.get()?, self.id, Some(file))?;
        found
            .into_iter()
            .next()
            .ok_or(ApiError::NotFound("print file"))
    }

    /// Keeps a print file with this job.
    ///
    /// # Errors
    /// Why it cannot be read; `files-too-many`. Then nothing is kept.
    pub(crate) fn keep_file(
        &self,
        workshop: &Workshop,
        name: &str,
        bytes: &[u8],
    ) -> Result<KeptFile, ApiError> {
        // What is no text is told by its bytes.
        let text = String::from_utf8_lossy(bytes);
        let about = AboutFile::default();
        let mut key = self.read_for(0, &about);
        let read = self.read_file(workshop, (&text, &about))?;
        if read.report.layers.is_empty() {
            return Err(Problem::new(
                "file-lays-nothing",
                "This file lays nothing: no move of it feeds filament",
                "",
                "Choose a print file in words (G-code) for a printer that lays filament.",
            )
            .into());
        }
        let kept = self.keep_text(workshop, name, about, &text, None)?;
        // Whoever keeps a file looks at it next.
        key.0 = kept.id;
        *lock(&self.opened.0) = Some((key, Arc::new(read)));
        Ok(kept)
    }

    /// What a file that is read now is read for.
    fn read_for(&self, file: i32, about: &AboutFile) -> ReadFor {
        let revision = self.revision();
        let said = format!("{:?} {:?}", about.tools, about.turns);
        (
            file,
            revision,
            self.planning.ready(revision).is_some(),
            said,
        )
    }

    fn keep_text(
        &self,
        workshop: &Workshop,
        name: &str,
        about: AboutFile,
        text: &str,
        differences: Option<&str>,
    ) -> Result<KeptFile, ApiError> {
        if self.kept_files(workshop)?.len() >= MOST_FILES {
            return Err(Problem::new(
                "files-too-many",
                format!("{MOST_FILES} print files are kept with this job"),
                "",
                "Forget one that is not needed any more.",
            )
            .into());
        }
        let name: String = name.chars().filter(|c| !c.is_control()).take(255).collect();
        let db = &mut *workshop.db.get()?;
        let id = store::sliced::keep(db, self.id, &name, &about, text, differences)?;
        workshop.tell(self.id, JobEvent::Sliced);
        Ok(KeptFile {
            id,
            name,
            bytes: text.len(),
            about,
        })
    }

    fn read_file(
        &self,
        workshop: &Workshop,
        (text, about): (&str, &AboutFile),
    ) -> Result<OpenedFile, ApiError> {
        let job = self.with_job(Job::clone);
        let plan = self.planning.ready(self.revision());
        let asked = asked(about);
        let rack = workshop.rack()?;
        let told = (&asked, &strand(about)[..]);
        Ok(opened_file((&job, &rack), plan.as_deref(), text, told)?)
    }

    /// A kept file as it was read last, or read now.
    fn opened(&self, workshop: &Workshop, kept: &KeptFile) -> Result<Arc<OpenedFile>, ApiError> {
        let key = self.read_for(kept.id, &kept.about);
        if let Some((of, found)) = &*lock(&self.opened.0)
            && *of == key
        {
            return Ok(found.clone());
        }
        let text = self.file_text(workshop, kept.id)?;
        let found = Arc::new(self.read_file(workshop, (&text, &kept.about))?);
        *lock(&self.opened.0) = Some((key, found.clone()));
        Ok(found)
    }

    /// What a kept file comes to on the job's printer.
    pub(crate) fn file_view(
        &self,
        workshop: &Workshop,
        file: i32,
    ) -> Result<KeptFileView, ApiError> {
        let revision = self.revision();
        let file = self.kept_file(workshop, file)?;
        let report = self.opened(workshop, &file)?.report.clone();
        Ok(KeptFileView {
            sent_as: sent_as(&file.name),
            file,
            revision,
            report,
        })
    }

    /// Its moves, format `VCV1`.
    pub(crate) fn file_moves(&self, workshop: &Workshop, file: i32) -> Result<Vec<u8>, ApiError> {
        let file = self.kept_file(workshop, file)?;
        Ok(self.opened(workshop, &file)?.moves_bytes())
    }

    /// Its text.
    pub(crate) fn file_text(&self, workshop: &Workshop, file: i32) -> Result<String, ApiError> {
        let found = store::sliced::text(&mut *workshop.db.get()?, self.id, file)?;
        found.ok_or(ApiError::NotFound("print file"))
    }

    /// Name and text of what can be taken of a kept file: itself, its differences, its strand.
    pub(crate) fn file_taken(
        &self,
        workshop: &Workshop,
        file: i32,
        what: &str,
    ) -> Result<(String, String), ApiError> {
        let kept = self.kept_file(workshop, file)?;
        let stem = stem_of(&kept.name);
        match (what, &kept.about.made) {
            ("print.gcode", _) => Ok((kept.name.clone(), self.file_text(workshop, file)?)),
            ("differences.txt", Some(_)) => {
                let found = store::sliced::differences(&mut *workshop.db.get()?, self.id, file)?;
                Ok((
                    format!("{stem}-differences.txt"),
                    found.ok_or(ApiError::NotFound("file"))?,
                ))
            }
            ("splices.json", Some(made)) if !made.splices.is_empty() => {
                let splices = serde_json::json!({ "splices": made.splices });
                Ok((format!("{stem}-splices.json"), format!("{splices:#}\n")))
            }
            _ => Err(ApiError::NotFound("file")),
        }
    }

    /// Name and text of a kept file for the job's printer.
    ///
    /// # Errors
    /// `file-wrong` with the first thing that is wrong with it on this printer; `release-of-plan` where somebody released the job:
    /// what was released are the plan's own files.
    pub(crate) fn kept_to_send(
        &self,
        workshop: &Workshop,
        file: i32,
    ) -> Result<(String, String), ApiError> {
        let kept = self.kept_file(workshop, file)?;
        if self.released(workshop)?.is_some() {
            return Err(Problem::new(
                "release-of-plan",
                format!(
                    "What was released are the print files of the plan, and not {}",
                    kept.name
                ),
                "release",
                "Send the plan's own print file, or take the release back.",
            )
            .into());
        }
        let read = self.opened(workshop, &kept)?;
        let mut findings = read.report.findings.iter();
        if let Some(wrong) = findings.find(|f| f.level == Level::Wrong) {
            return Err(Problem::new(
                "file-wrong",
                format!("{} is not sent: {}", kept.name, wrong.message),
                wrong.detail.clone(),
                "Have it put right on its page, or choose another.",
            )
            .into());
        }
        Ok((sent_as(&kept.name), self.file_text(workshop, file)?))
    }

    /// A kept file, ready to be rehearsed.
    ///
    /// # Errors
    /// Not found; why it cannot be read.
    pub(super) fn kept_to_rehearse(
        &self,
        workshop: &Workshop,
        file: i32,
        troubles: Vec<Trouble>,
    ) -> Result<ToRehearse, ApiError> {
        let kept = self.kept_file(workshop, file)?;
        let read = self.opened(workshop, &kept)?;
        let (job, rack) = (self.with_job(Job::clone), workshop.rack()?);
        let told = (&asked(&kept.about), &strand(&kept.about)[..]);
        let setup = rehearsal_setup_of_file((&job, &rack), &read, told, troubles);
        Ok(ToRehearse {
            text: self.file_text(workshop, file)?,
            setup,
            used: read.report.slots.iter().map(|s| s.slot).collect(),
        })
    }

    /// Keeps which slots stand for tools and pauses of a file.
    pub(crate) fn say_of_file(
        &self,
        workshop: &Workshop,
        file: i32,
        said: SayOfFile,
    ) -> Result<KeptFileView, ApiError> {
        let mut kept = self.kept_file(workshop, file)?;
        let slots = self.with_job(|job| job.printer.slots);
        let all = said.tools.values().chain(&said.turns);
        if let Some(slot) = all.into_iter().find(|s| **s == 0 || **s > slots) {
            return Err(Problem::new(
                "slot-unknown",
                format!("There is no slot {slot}"),
                "",
                format!("Name a slot from 1 to {slots}."),
            )
            .into());
        }
        (kept.about.tools, kept.about.turns) = (said.tools, said.turns);
        if !store::sliced::say(&mut *workshop.db.get()?, self.id, file, &kept.about)? {
            return Err(ApiError::NotFound("print file"));
        }
        workshop.tell(self.id, JobEvent::Sliced);
        self.file_view(workshop, file)
    }

    /// Forgets a kept file.
    pub(crate) fn forget_file(&self, workshop: &Workshop, file: i32) -> Result<(), ApiError> {
        if !store::sliced::forget(&mut *workshop.db.get()?, self.id, file)? {
            return Err(ApiError::NotFound("print file"));
        }
        workshop.tell(self.id, JobEvent::Sliced);
        Ok(())
    }

    /// Makes a file for the job's printer of one or several, kept beside them.
    ///
    /// # Errors
    /// Those of [`rewritten_for`]; as for [`Session::ready_plan`] where the plan's changes are asked for.
    pub(crate) fn rewrite_files(
        &self,
        workshop: &Workshop,
        wanted: &RewriteFiles,
    ) -> Result<RewrittenView, ApiError> {
        let kept = wanted
            .files
            .iter()
            .map(|id| self.kept_file(workshop, *id))
            .collect::<Result<Vec<_>, _>>()?;
        let texts = kept
            .iter()
            .map(|f| self.file_text(workshop, f.id))
            .collect::<Result<Vec<_>, _>>()?;
        let mut ask = kept.first().map(|f| asked(&f.about)).unwrap_or_default();
        if kept.len() > 1 {
            ask.turns.clone_from(&wanted.slots);
        }
        ask.changes = wanted.changes.iter().map(|c| (c.layer, c.slot)).collect();
        ask.purge = wanted.purge;
        let plan = match wanted.as_planned {
            true => Some(self.ready_plan()?),
            false => None,
        };
        let job = self.with_job(Job::clone);
        let rack = workshop.rack()?;
        let plan = plan.as_deref().map(|p| &p.plan);
        let found = rewritten_for((&job, &rack), plan, &texts, &ask)?;
        // Tools that are called are the printer's own now; where a person changes spools, what is in at first is still to be said.
        let begins = found.begins.or_else(|| ask.tools.get(&0).copied());
        let begins = begins.filter(|_| job.printer.profile().is_by_hand);
        let about = AboutFile {
            tools: begins.into_iter().map(|slot| (0, slot)).collect(),
            turns: found.turns,
            made: Some(MadeFile {
                of: kept.iter().map(|f| f.name.clone()).collect(),
                differences: found.differences.len(),
                left: found.left,
                splices: found.splices.into_iter().map(Into::into).collect(),
            }),
        };
        let first = kept.first().map_or("print", |f| f.name.as_str());
        let what = if kept.len() > 1 {
            "joined"
        } else {
            "rewritten"
        };
        let name = format!("{}-{what}.gcode", stem_of(first));
        let differences = difference_text(&found.differences);
        let file = self.keep_text(workshop, &name, about, &found.text, Some(&differences))?;
        let differences = found.differences.into_iter().take(SHOWN).collect();
        Ok(RewrittenView { file, differences })
    }
}

impl Workshop {
    /// Makes a job for a print file that none is there for.
    ///
    /// # Errors
    /// As for [`Session::keep_file`]; then nothing is kept.
    pub(crate) fn job_of_file(
        self: &Arc<Self>,
        name: &str,
        bytes: &[u8],
    ) -> Result<FileJob, ApiError> {
        let job = self.create_empty(name)?.id;
        match self
            .session(job)
            .and_then(|session| session.keep_file(self, name, bytes))
        {
            Ok(file) => Ok(FileJob { job, file: file.id }),
            Err(problem) => {
                self.delete(job)?;
                Err(problem)
            }
        }
    }
}

/// Slot and mm of the strand that a file was made for, from the nozzle on.
fn strand(about: &AboutFile) -> Vec<(u8, f64)> {
    let splices = about.made.iter().flat_map(|m| &m.splices);
    splices.map(|s| (s.slot, s.mm)).collect()
}

fn asked(about: &AboutFile) -> RewriteAsked {
    RewriteAsked {
        tools: about.tools.clone(),
        turns: about.turns.clone(),
        ..RewriteAsked::default()
    }
}

/// What a kept file is called at a printer: plain letters, digits, - and dots.
fn sent_as(name: &str) -> String {
    let plain = |c: char| match c {
        c if c.is_ascii_alphanumeric() || c == '.' => c,
        _ => '-',
    };
    let stem: String = stem_of(name).chars().map(plain).take(80).collect();
    format!("{stem}.gcode")
}

fn stem_of(name: &str) -> &str {
    name.rsplit_once('.').map_or(name, |(stem, _)| stem)
}
