//! From files to jobs: a new job, models added to one, a model replaced.

use super::brought::Brought;
use super::laying::slot_of_colour;
use super::session::Session;
use super::staging::{Staged, content_name};
use super::workshop::Workshop;
use crate::error::ApiError;
use crate::store;
use crate::wire::{Arrangement, JobSummary};
use std::borrow::Cow;
use std::collections::HashSet;
use std::sync::Arc;
use varichrom_core::Problem;
use varichrom_core::colour::Colour;
use varichrom_core::job::{
    Edit, History, Job, JobEdit, ModelEdit, PlaceEdit, RegionEdit, SlotEdit,
};
use varichrom_core::machine::Spool;
use varichrom_core::model::OpenMesh;

/// A model to go into a job.
struct Incoming<'a> {
    model: String,
    file: &'a str,
    content: String,
    bytes: Cow<'a, [u8]>,
    open: Arc<OpenMesh>,
}

/// Gap between models that stand side by side, mm.
const APART_MM: f64 = 8.0;

/// Into how many colours those that vary over facets are brought together at first.
const FIRST_COLOURS: u8 = 4;

impl Incoming<'_> {
    fn opened(&self) -> Edit {
        Edit::Model(ModelEdit::OpenModel {
            model: self.model.clone(),
            file: self.file.chars().take(255).collect(),
            content: self.content.clone(),
        })
    }

    fn colours(&self) -> Option<Edit> {
        self.open.origin.colours.as_ref()?;
        Some(Edit::Model(ModelEdit::KeepColours {
            model: self.model.clone(),
            most: FIRST_COLOURS,
        }))
    }
}

impl Workshop {
    /// Makes a job of one model file.
    ///
    /// `file`: its name. `name`: the job's, else the file's without its ending. `edits`: applied after the model is
    /// open, and can be taken back; `beside`: what else they name, such as drawings. Without any, the first spools of the rack are put into the slots.
    ///
    /// # Errors
    /// The problem with the file or an edit; then nothing is kept.
    pub fn import(
        self: &Arc<Self>,
        file: &str,
        name: Option<&str>,
        model: Option<&str>,
        bytes: &[u8],
        edits: Option<Vec<Edit>>,
        beside: &[Vec<u8>],
    ) -> Result<JobSummary, ApiError> {
        let open = Arc::new(OpenMesh::from_bytes(bytes)?);
        let stem = readable(file);
        let incoming = Incoming {
            model: model.unwrap_or(&stem).to_string(),
            file,
            content: content_name(bytes),
            bytes: Cow::Borrowed(bytes),
            open,
        };
        self.create(name.unwrap_or(&stem), &[incoming], edits, beside, false)
    }

    /// Makes a job of files that were staged, or one job for each.
    ///
    /// # Errors
    /// If a file is not open, or the job cannot be kept; then nothing is kept of that job.
    pub(crate) fn assemble(
        self: &Arc<Self>,
        staged: &[u32],
        arrangement: Arrangement,
    ) -> Result<Vec<JobSummary>, ApiError> {
        let files = self.ready(staged)?;
        let mut jobs = Vec::new();
        if arrangement == Arrangement::Each {
            for file in &files {
                let one = incoming(std::slice::from_ref(file), &Job::default())?;
                jobs.push(self.create(&readable(&file.file), &one, None, &[], false)?);
            }
        } else {
            let all = incoming(&files, &Job::default())?;
            let name = match &all[..] {
                [one] => one.model.clone(),
                [first, ..] => format!("{} and {} more", first.model, all.len() - 1),
                [] => String::new(),
            };
            jobs.push(self.create(&name, &all, None, &[], arrangement == Arrangement::Apart)?);
        }
        for id in staged {
            // One that is gone already needs no forgetting.
            let _ = self.unstage(*id);
        }
        Ok(jobs)
    }

    /// Adds staged files to a job, as edits.
    ///
    /// # Errors
    /// If a file is not open, or an edit is refused; edits before that one stay.
    pub(crate) fn add_models(
        self: &Arc<Self>,
        session: &Arc<Session>,
        staged: &[u32],
        arrangement: Arrangement,
    ) -> Result<(), ApiError> {
        let files = self.ready(staged)?;
        let all = session.with_job(|job| incoming(&files, job))?;
        for file in &all {
            self.remember(&file.content, &file.open);
            let kept = [(file.content.clone(), &file.bytes[..])];
            session.apply_with(self, file.opened(), &kept)?;
        }
        let known = session.with_job(|job| -> HashSet<String> {
            job.regions.iter().map(|r| r.key.clone()).collect()
        });
        for edit in all.iter().filter_map(Incoming::colours) {
            session.apply(self, edit)?;
        }
        // Regions that were there keep the slots they have.
        let rack = self.rack()?;
        let is_new = |key: &str| !known.contains(key);
        for edit in session.with_job(|job| slots_by_colour(job, &rack, &is_new)) {
            session.apply(self, edit)?;
        }
        if arrangement == Arrangement::Apart {
            let spacing_mm = APART_MM;
            session.apply(self, Edit::Place(PlaceEdit::SetApart { spacing_mm }))?;
        }
        for id in staged {
            let _ = self.unstage(*id);
        }
        Ok(())
    }

    /// Replaces a model of a job by a staged file.
    ///
    /// # Errors
    /// If the file is not open or there is no such model.
    pub(crate) fn revise(
        self: &Arc<Self>,
        session: &Arc<Session>,
        model: usize,
        staged: u32,
    ) -> Result<(), ApiError> {
        let file = self.staged(staged)?;
        let open = file.open()?;
        let name = session.with_job(|job| job.models.get(model).map(|m| m.name.clone()));
        let bytes = file.bytes()?;
        let content = content_name(&bytes);
        self.remember(&content, &open);
        let edit = Edit::Model(ModelEdit::ReviseModel {
            model: name.ok_or(ApiError::NotFound("model"))?,
            file: file.file.clone(),
            content: content.clone(),
        });
        session.apply_with(self, edit, &[(content, &bytes)])?;
        let _ = self.unstage(staged);
        Ok(())
    }

    fn ready(&self, staged: &[u32]) -> Result<Vec<Arc<Staged>>, ApiError> {
        if staged.is_empty() {
            let message = "No file was chosen";
            return Err(Problem::new("no-files", message, "", "Choose a model file.").into());
        }
        staged.iter().map(|id| self.staged(*id)).collect()
    }

    /// Makes a job without models, named after a file.
    pub(super) fn create_empty(self: &Arc<Self>, file: &str) -> Result<JobSummary, ApiError> {
        self.create(&readable(file), &[], None, &[], false)
    }

    fn create(
        self: &Arc<Self>,
        name: &str,
        files: &[Incoming<'_>],
        edits: Option<Vec<Edit>>,
        beside: &[Vec<u8>],
        is_apart: bool,
    ) -> Result<JobSummary, ApiError> {
        let rack = self.rack()?;
        let mut all = vec![Edit::Job(JobEdit::RenameJob { name: name.into() })];
        for file in files {
            self.remember(&file.content, &file.open);
            all.push(file.opened());
        }
        let opened = all.len();
        let is_ready_made = edits.is_some();
        match edits {
            Some(edits) => all.extend(edits),
            None => {
                let palettes = files.iter().filter_map(|f| f.open.origin.colours.as_ref());
                let colours: Vec<Colour> = palettes
                    .flat_map(|c| c.palette.iter().map(|c| c.colour))
                    .collect();
                all.extend(usual_start(&rack, &colours));
                all.extend(files.iter().filter_map(Incoming::colours));
            }
        }
        if is_apart {
            let spacing_mm = APART_MM;
            all.push(Edit::Place(PlaceEdit::SetApart { spacing_mm }));
        }
        let mut contents: Vec<(String, &[u8])> = files
            .iter()
            .map(|f| (f.content.clone(), &f.bytes[..]))
            .collect();
        contents.extend(beside.iter().map(|b| (content_name(b), &b[..])));
        let mut history = self.replayed(&all, &contents)?;
        if !is_ready_made {
            for edit in slots_by_colour(history.job(), &rack, &|_| true) {
                history.apply(edit, self.as_ref())?;
            }
        }
        // What someone else did to it can be taken back; what every job starts with cannot.
        let floor = if is_ready_made {
            opened
        } else {
            history.edits().len()
        };
        self.keep_history(&history, floor, &contents)
    }

    /// A job after some edits, which may name files that are not in the store yet.
    fn replayed(&self, edits: &[Edit], contents: &[(String, &[u8])]) -> Result<History, ApiError> {
        let brought = Brought {
            workshop: self,
            files: contents,
        };
        Ok(History::replay(edits.to_vec(), edits.len(), &brought)?)
    }

    /// Keeps a job of these edits, with the files that they name. `floor`: how many of them cannot be taken back.
    ///
    /// # Errors
    /// The problem with an edit; then nothing is kept.
    pub(super) fn keep_new(
        self: &Arc<Self>,
        edits: &[Edit],
        floor: usize,
        contents: &[(String, &[u8])],
    ) -> Result<JobSummary, ApiError> {
        let history = self.replayed(edits, contents)?;
        self.keep_history(&history, floor, contents)
    }

    fn keep_history(
        self: &Arc<Self>,
        history: &History,
        floor: usize,
        contents: &[(String, &[u8])],
    ) -> Result<JobSummary, ApiError> {
        let summary = Session::summary_of(0, history, None);
        let text =
            serde_json::to_string(&summary).map_err(|e| ApiError::Internal(e.to_string()))?;
        let standing = store::jobs::Standing {
            name: &history.job().name,
            head: history.head(),
            revision: 1,
            summary: &text,
        };
        let id = store::jobs::create(
            &mut *self.db.get()?,
            &standing,
            history.edits(),
            floor,
            contents,
        )?;
        Ok(JobSummary { id, ..summary })
    }
}

/// Spools of the rack in the slots of the default printer, those of just the colours that come first, and the first one's colour for
/// the first region.
fn usual_start(rack: &[Spool], colours: &[Colour]) -> Vec<Edit> {
    let mut spools: Vec<&Spool> = rack.iter().filter(|s| !s.is_archived).collect();
    // A stable sort: the others stay in the maker's order.
    spools.sort_by_key(|s| {
        colours
            .iter()
            .position(|c| *c == s.colour)
            .unwrap_or(usize::MAX)
    });
    let slots = usize::from(varichrom_core::machine::Printer::default().slots);
    let load = |(slot, spool): (u8, &&Spool)| {
        Edit::Slot(SlotEdit::LoadSlot {
            slot,
            spool: Some(spool.id.clone()),
        })
    };
    let mut edits: Vec<Edit> = (1u8..).zip(spools.iter().take(slots)).map(load).collect();
    edits.extend(spools.first().map(|first| {
        Edit::Region(RegionEdit::RecolourRegion {
            region: "base".into(),
            colour: first.colour,
        })
    }));
    edits
}

/// What gives regions of just the colour of a loaded spool its slot; `is_new`: which regions, by their keys.
fn slots_by_colour(job: &Job, rack: &[Spool], is_new: &dyn Fn(&str) -> bool) -> Vec<Edit> {
    let regions = job.live_regions().filter(|(_, r)| is_new(&r.key));
    let assigned = regions.filter_map(|(_, region)| {
        let slot = slot_of_colour(job, rack, region.colour)?;
        (region.slot != Some(slot)).then(|| {
            Edit::Slot(SlotEdit::AssignSlot {
                region: region.key.clone(),
                slot: Some(slot),
            })
        })
    });
    assigned.collect()
}

/// Staged files as models, with names that are new to the job.
fn incoming<'a>(files: &'a [Arc<Staged>], job: &Job) -> Result<Vec<Incoming<'a>>, ApiError> {
    let mut all: Vec<Incoming<'a>> = Vec::new();
    for file in files {
        let open = file.open()?;
        let wanted = readable(&file.file);
        let is_free = |name: &str| job.model(name).is_none() && all.iter().all(|i| i.model != name);
        let model = if is_free(&wanted) {
            wanted
        } else {
            let mut numbered = (2..).map(|n| format!("{wanted} {n}"));
            numbered.find(|n| is_free(n)).unwrap_or(wanted)
        };
        let bytes = file.bytes()?;
        all.push(Incoming {
            model,
            file: &file.file,
            content: content_name(&bytes),
            bytes: Cow::Owned(bytes),
            open,
        });
    }
    Ok(all)
}

/// A file's name as a title: without folder and ending, hyphens and underscores as spaces, a capital first.
fn readable(file: &str) -> String {
    let base = file.rsplit(['/', '\\']).next().unwrap_or(file);
    let stem = base.rsplit_once('.').map_or(base, |(stem, _)| stem);
    let words = stem.replace(['_', '-'], " ");
    let mut letters = words.trim().chars().take(120);
    match letters.next() {
        Some(first) => first.to_uppercase().chain(letters).collect(),
        None => "Model".into(),
    }
}
