//! Drawings and words laid on the models of a job.

use super::drawings::{LINE_MM, path};
use super::session::Session;
use super::staging::content_name;
use super::steps::no_step;
use super::workshop::{Workshop, lock};
use crate::error::ApiError;
use crate::wire::{FlatInk, FlatView, GivenDrawing, InkTaker, LayDrawing};
use std::collections::VecDeque;
use std::sync::{Arc, Mutex};
use varichrom_core::colour::Colour;
use varichrom_core::drawing::{DrawingSource, Flat, LaidOn, thin_places};
use varichrom_core::job::{Edit, GiveEdit, Job, JobEdit, Models, PartEdit, RegionEdit};
use varichrom_core::machine::Spool;
use varichrom_core::model::Place;

/// Drawings that were laid lately, as they came out flat: moving one does not read it again.
#[derive(Default)]
pub(super) struct Flats {
    latest: Mutex<VecDeque<(DrawingSource, Arc<Flat>)>>,
}

/// Drawings kept ready.
const KEPT: usize = 16;

/// Corners of a drawing that are drawn at most: a picture of more is told by its colours.
const MOST_CORNERS: usize = 60_000;

/// Corners of a drawing whose thin places are looked for while somebody waits.
const MOST_LOOKED_THROUGH: usize = 20_000;

impl Flats {
    pub(super) fn get(&self, drawing: &DrawingSource) -> Option<Arc<Flat>> {
        let latest = lock(&self.latest);
        let found = latest.iter().find(|(known, _)| known == drawing);
        found.map(|(_, flat)| flat.clone())
    }

    pub(super) fn remember(&self, drawing: &DrawingSource, flat: Arc<Flat>) -> Arc<Flat> {
        let mut latest = lock(&self.latest);
        latest.retain(|(known, _)| known != drawing);
        latest.push_front((drawing.clone(), flat.clone()));
        latest.truncate(KEPT);
        flat
    }
}

/// A drawing as a job names it, with the files it takes that may not be in the store yet.
struct InHand {
    drawing: DrawingSource,
    flat: Arc<Flat>,
    files: Vec<(String, Vec<u8>)>,
}

impl Workshop {
    /// A drawing that is to be laid.
    fn brought(&self, given: &GivenDrawing) -> Result<InHand, ApiError> {
        let mut files = Vec::new();
        let drawing = match given {
            GivenDrawing::Staged { staged, options } => {
                let table = self.staged(*staged)?.drawing()?;
                let (file, bytes) = table.file();
                let content = content_name(bytes);
                files.push((content.clone(), bytes.to_vec()));
                DrawingSource::File {
                    file: file.to_string(),
                    content,
                    options: options.clone(),
                }
            }
            GivenDrawing::Kept {
                file,
                content,
                options,
            } => DrawingSource::File {
                file: file.clone(),
                content: content.clone(),
                options: options.clone(),
            },
            GivenDrawing::Words { words, font } => {
                let mut words = words.clone();
                if let Some(font) = font {
                    let staged = self.staged(*font)?;
                    let bytes = staged.bytes()?;
                    let content = content_name(&bytes);
                    files.push((content.clone(), bytes));
                    words.own_font = Some(content);
                }
                DrawingSource::Words { words }
            }
            GivenDrawing::Eye { eye } => DrawingSource::Eye { eye: eye.clone() },
        };
        let read = |content: &str| match files.iter().find(|(name, _)| name == content) {
            Some((_, bytes)) => Ok(Arc::new(bytes.clone())),
            None => self.bytes(content),
        };
        let flat = self.flat_from(&drawing, &read)?;
        Ok(InHand {
            drawing,
            flat,
            files,
        })
    }

    /// How a drawing comes out flat.
    ///
    /// # Errors
    /// Why it cannot be read, or that it is not there.
    pub(crate) fn flat_of(&self, given: &GivenDrawing) -> Result<FlatView, ApiError> {
        let InHand { drawing, flat, .. } = self.brought(given)?;
        let corners: usize = (flat.inks.iter())
            .flat_map(|i| i.area.rings())
            .map(Vec::len)
            .sum();
        let ink = |i: &varichrom_core::drawing::Ink| FlatInk {
            name: i.name.clone(),
            colour: i.colour,
            area_mm2: i.area.mm2(),
            path: (corners <= MOST_CORNERS).then(|| path(&i.area)),
        };
        let thin = match corners <= MOST_LOOKED_THROUGH {
            true => thin_places(&flat, LINE_MM).len(),
            false => 0,
        };
        Ok(FlatView {
            name: drawing.name(),
            size_mm: flat.size_mm,
            inks: flat.inks.iter().map(ink).collect(),
            thin,
            line_mm: LINE_MM,
            notes: flat.notes.iter().map(|n| n.message.clone()).collect(),
        })
    }

    /// Lays a drawing on the models of a job, as a step of its own or in the place of one.
    ///
    /// # Errors
    /// Why the drawing cannot be read or the edit is refused; then nothing is changed.
    pub(crate) fn lay(
        self: &Arc<Self>,
        session: &Arc<Session>,
        asked: LayDrawing,
    ) -> Result<(), ApiError> {
        let brought = self.brought(&asked.drawing)?;
        let before = match asked.instead_of {
            Some(number) => Some((number, session.laid_by(number)?)),
            None => None,
        };
        let own: Vec<String> = before
            .iter()
            .flat_map(|(_, edit)| regions_made(edit))
            .collect();
        let rack = self.rack()?;
        let edit = session.with_job(|job| {
            let loaded = |colour: Colour| slot_of_colour(job, &rack, colour);
            laying_edit(job, &brought, &asked, own, &loaded)
        });
        let files: Vec<(String, &[u8])> = (brought.files.iter())
            .map(|(name, bytes)| (name.clone(), bytes.as_slice()))
            .collect();
        match before {
            Some((number, _)) => session.put_in_place(self, number, edit, &files),
            None => session.apply_with(self, edit, &files),
        }
    }
}

/// Keys of the regions that a step makes.
fn regions_made(edit: &Edit) -> Vec<String> {
    match edit {
        Edit::Job(JobEdit::Several { edits, .. }) => edits.iter().flat_map(regions_made).collect(),
        Edit::Region(RegionEdit::AddRegion { region, .. }) => vec![region.clone()],
        _ => Vec::new(),
    }
}

/// The slot whose spool has just this colour, from 1.
pub(super) fn slot_of_colour(job: &Job, rack: &[Spool], colour: Colour) -> Option<u8> {
    let is_it = |id: &Option<String>| {
        let spool = rack.iter().find(|s| Some(&s.id) == id.as_ref());
        spool.is_some_and(|s| s.colour == colour)
    };
    let at = job.slots.iter().position(is_it)?;
    u8::try_from(at + 1).ok()
}

/// Whether a step lays a drawing.
fn lays(edit: &Edit) -> bool {
    match edit {
        Edit::Job(JobEdit::Several { edits, .. }) => edits.iter().any(lays),
        Edit::Give(GiveEdit::GiveDrawing { .. }) | Edit::Part(PartEdit::Stamp { .. }) => true,
        _ => false,
    }
}

/// The step: what new regions it takes, then the drawing. `own`: keys of regions that it made before, to be used first, so that later
/// steps still find them.
fn laying_edit(
    job: &Job,
    brought: &InHand,
    asked: &LayDrawing,
    own: Vec<String>,
    loaded: &dyn Fn(Colour) -> Option<u8>,
) -> Edit {
    let mut own: VecDeque<String> = own.into();
    let mut edits = Vec::new();
    let mut regions = Vec::new();
    let mut next = 1;
    for (ink, taker) in brought.flat.inks.iter().zip(&asked.inks) {
        regions.push(match taker {
            InkTaker::Nobody => None,
            InkTaker::Region { region } => Some(region.clone()),
            InkTaker::New => {
                let region = own.pop_front().unwrap_or_else(|| {
                    loop {
                        let key = format!("drawn-{next}");
                        next += 1;
                        if job.regions.iter().all(|r| r.key != key) {
                            break key;
                        }
                    }
                });
                edits.push(Edit::Region(RegionEdit::AddRegion {
                    region: region.clone(),
                    name: ink.name.clone(),
                    colour: ink.colour,
                    slot: loaded(ink.colour),
                }));
                Some(region)
            }
        });
    }
    let (drawing, laying) = (brought.drawing.clone(), asked.laying.clone());
    let name = drawing.name();
    let (what, laid) = match asked.relief {
        None => {
            let model = asked.model.clone();
            let laid = GiveEdit::GiveDrawing {
                drawing,
                laying,
                regions,
                model,
            };
            (format!("Lay {name}"), Edit::Give(laid))
        }
        Some(relief) => {
            let normal = match &laying.on {
                LaidOn::Flat { facing, .. } => *facing,
                LaidOn::Around { axis, .. } => *axis,
            };
            let first = job.models.first().map(|m| m.name.clone());
            let at = Place {
                model: asked.model.clone().or(first).unwrap_or_default(),
                point: laying.at,
                normal,
            };
            let stamp = PartEdit::Stamp {
                at,
                drawing,
                laying,
                regions,
                relief,
            };
            (format!("Stamp {name}"), Edit::Part(stamp))
        }
    };
    if edits.is_empty() {
        return laid;
    }
    edits.push(laid);
    Edit::Job(JobEdit::Several { what, edits })
}

impl Session {
    /// The step of a number, which lays a drawing.
    fn laid_by(&self, number: u32) -> Result<Edit, ApiError> {
        let edit = self.step(number).filter(lays);
        edit.ok_or_else(|| no_step(number))
    }
}
