//! Drawings between file and bodies: on the table, read anew, and made a model of.

use super::session::Session;
use super::staging::Stage;
use super::workshop::Workshop;
use crate::error::ApiError;
use crate::store;
use crate::wire::{DrawingView, DrawnBodies, DrawnBody, InkView, NoteView, StagedView, ThinView};
use std::sync::{Arc, OnceLock};
use varichrom_core::Problem;
use varichrom_core::drawing::{
    DrawingOptions, Drawn, Flat, Flatwork, Said, Side, Stacking, ThinPlace, is_drawing, thin_places,
};
use varichrom_core::formats::is_picture;
use varichrom_core::shapes::Area;

/// How thick colours are at first, mm: two layers of the usual height.
const USUAL_MM: f64 = 0.4;

/// Width of a line of the usual nozzle, mm.
pub(super) const LINE_MM: f64 = 0.45;

/// Thin places that are shown at most.
const MOST_THIN: usize = 60;

/// A drawing on the table.
#[derive(Clone)]
pub(super) struct OnTable {
    drawn: Arc<Drawn>,
    flat: Arc<Flat>,
    /// What of it is thinner than a line: looked for once, when it is asked for first.
    thin: Arc<OnceLock<Vec<ThinPlace>>>,
}

impl OnTable {
    /// Reads a drawing that came in as a file.
    pub(super) fn read(
        file: &str,
        bytes: &[u8],
        progress: &(dyn Fn(f64) -> bool + Sync),
    ) -> Option<Result<OnTable, Problem>> {
        is_drawing(bytes).then(|| {
            let mut drawn = Drawn {
                bytes: bytes.to_vec(),
                said: Said {
                    file: file.into(),
                    options: DrawingOptions::default(),
                    work: Flatwork::plain(0, USUAL_MM),
                    stacking: None,
                },
            };
            let flat = drawn.flat(progress)?;
            drawn.said.work = Flatwork::plain(flat.inks.len(), USUAL_MM);
            Ok(OnTable::of(drawn, flat))
        })
    }

    fn of(drawn: Drawn, flat: Flat) -> OnTable {
        OnTable {
            drawn: Arc::new(drawn),
            flat: Arc::new(flat),
            thin: Arc::default(),
        }
    }

    /// The same, read otherwise, or another drawing in its place: what was said of a colour goes on with the colour.
    fn anew(&self, bytes: &[u8], file: &str, options: DrawingOptions) -> Result<OnTable, Problem> {
        let mut drawn = Drawn {
            bytes: bytes.to_vec(),
            said: Said {
                file: file.into(),
                options,
                work: self.drawn.said.work.clone(),
                stacking: self.drawn.said.stacking.clone(),
            },
        };
        let flat = drawn.flat(&|_| true)?;
        drawn.said.work = drawn.said.work.moved(&self.flat, &flat);
        Ok(OnTable::of(drawn, flat))
    }

    /// How it is read.
    pub(super) fn options(&self) -> &DrawingOptions {
        &self.drawn.said.options
    }

    /// The name of its file, and the model that it becomes when its shades are stacked.
    pub(super) fn stacked_model(&self, stacking: Stacking) -> Result<(String, Vec<u8>), Problem> {
        let mut drawn = (*self.drawn).clone();
        drawn.said.stacking = Some(stacking);
        let model = drawn.model(&self.flat)?;
        Ok((drawn.said.file, model))
    }

    /// The name of its file and its bytes.
    pub(super) fn file(&self) -> (&str, &[u8]) {
        (&self.drawn.said.file, &self.drawn.bytes)
    }

    fn view(&self) -> DrawingView {
        let said = &self.drawn.said;
        let ink = |i: &varichrom_core::drawing::Ink| InkView {
            name: i.name.clone(),
            colour: i.colour,
            area_mm2: i.area.mm2(),
            pieces: i.area.clone().islands().len(),
        };
        let note = |n: &varichrom_core::drawing::Note| NoteView {
            message: n.message.clone(),
            mend: n.mend.clone(),
        };
        DrawingView {
            file: said.file.clone(),
            is_picture: is_picture(&self.drawn.bytes),
            size_mm: self.flat.size_mm,
            inks: self.flat.inks.iter().map(ink).collect(),
            notes: self.flat.notes.iter().map(note).collect(),
            options: said.options.clone(),
            work: said.work.clone(),
            stacking: said.stacking.clone(),
        }
    }

    fn bodies(&self, work: &Flatwork) -> Result<DrawnBodies, Problem> {
        let bodies = work.bodies(&self.flat)?;
        let width = self.flat.size_mm[0];
        // As the drawing is seen, whichever side lies on the bed.
        let seen = |area: &Area| match work.side {
            Side::Upper => area.clone(),
            Side::Bed => area.mirrored(width),
        };
        let mut low = [f64::INFINITY; 2];
        let mut high = [f64::NEG_INFINITY; 2];
        let middle = 0.5 * self.flat.size_mm[1];
        let mut shown = Vec::new();
        for body in &bodies {
            let area = seen(&body.area);
            if let Some((l, h)) = area.bounds() {
                (0..2).for_each(|i| {
                    low[i] = low[i].min(l[i]);
                    high[i] = high[i].max(h[i]);
                });
            }
            shown.push(DrawnBody {
                name: body.name.clone(),
                colour: body.colour,
                area_mm2: area.mm2(),
                volume_mm3: body.volume_mm3(),
                span_mm: body.span_mm,
                path: path(&area),
                cut: cut(&area, middle),
            });
        }
        let thin: &[ThinPlace] = match work.thicken_mm {
            Some(_) => &[],
            None => self.thin.get_or_init(|| thin_places(&self.flat, LINE_MM)),
        };
        let is_made = |p: &&ThinPlace| work.body_of(p.ink).is_some();
        let thin = thin.iter().filter(is_made).take(MOST_THIN);
        Ok(DrawnBodies {
            bounds_mm: [low, high],
            height_mm: bodies.iter().map(|b| b.span_mm[1]).fold(0.0, f64::max),
            facets: bodies.iter().map(|b| b.mesh.facets.len()).sum(),
            thin: thin
                .map(|p| ThinView {
                    ink: p.ink,
                    at: p.at,
                    width_mm: p.width_mm,
                })
                .collect(),
            line_mm: LINE_MM,
            bodies: shown,
        })
    }
}

/// Outlines as path data.
pub(super) fn path(area: &Area) -> String {
    let mut text = String::new();
    for ring in area.rings_mm() {
        for (at, p) in ring.iter().enumerate() {
            let word = if at == 0 { 'M' } else { 'L' };
            text.push_str(&format!("{word}{:.3} {:.3}", p[0], p[1]));
        }
        text.push('Z');
    }
    text
}

/// Where a level line meets an area, from to.
fn cut(area: &Area, y: f64) -> Vec<[f64; 2]> {
    let mut at: Vec<f64> = Vec::new();
    for ring in area.rings_mm() {
        for (n, a) in ring.iter().enumerate() {
            let b = ring[(n + 1) % ring.len()];
            if (a[1] > y) != (b[1] > y) {
                at.push(a[0] + (y - a[1]) / (b[1] - a[1]) * (b[0] - a[0]));
            }
        }
    }
    at.sort_by(f64::total_cmp);
    at.chunks_exact(2).map(|c| [c[0], c[1]]).collect()
}

impl Workshop {
    /// A drawing that is on the table.
    ///
    /// # Errors
    /// If there is none of that number, or why it was refused.
    pub(crate) fn drawing(&self, id: u32) -> Result<DrawingView, ApiError> {
        Ok(self.staged(id)?.drawing()?.view())
    }

    /// Reads a drawing anew, otherwise.
    ///
    /// # Errors
    /// As for [`Workshop::drawing`]; why it cannot be read so. Then it stays as it was.
    pub(crate) fn read_anew(
        &self,
        id: u32,
        options: DrawingOptions,
    ) -> Result<DrawingView, ApiError> {
        let staged = self.staged(id)?;
        let old = staged.drawing()?;
        let new = old.anew(&old.drawn.bytes, &old.drawn.said.file, options)?;
        let view = new.view();
        staged.put(Stage::Drawing(new));
        Ok(view)
    }

    /// What would become of a drawing.
    ///
    /// # Errors
    /// As for [`Workshop::drawing`] and [`Flatwork::bodies`].
    pub(crate) fn drawn_bodies(&self, id: u32, work: &Flatwork) -> Result<DrawnBodies, ApiError> {
        Ok(self.staged(id)?.drawing()?.bodies(work)?)
    }

    /// Makes a model of a drawing, which waits as a file does until a job takes it.
    ///
    /// # Errors
    /// As for [`Workshop::drawn_bodies`].
    pub(crate) fn model_of_drawing(
        self: &Arc<Self>,
        id: u32,
        work: Flatwork,
    ) -> Result<StagedView, ApiError> {
        let table = self.staged(id)?.drawing()?;
        let mut drawn = (*table.drawn).clone();
        drawn.said.work = work;
        drawn.said.stacking = None;
        let model = drawn.model(&table.flat)?;
        self.stage(&drawn.said.file, &model, &[], false)
    }

    /// Puts the drawing that a model of a job was made of on the table. `instead`: another one that takes its place.
    ///
    /// # Errors
    /// If there is no such model, or it was not made of a drawing.
    pub(crate) fn drawing_of_model(
        self: &Arc<Self>,
        session: &Session,
        model: usize,
        instead: Option<u32>,
    ) -> Result<StagedView, ApiError> {
        let content = session.with_job(|job| job.models.get(model).map(|m| m.content.clone()));
        let content = content.ok_or(ApiError::NotFound("model"))?;
        let bytes = store::jobs::content(&mut *self.db.get()?, &content)?;
        let drawn = bytes.as_deref().and_then(Drawn::of).ok_or_else(|| {
            let message = "This model was not made of a drawing";
            Problem::new("no-drawing", message, "", "Revise it with another file.")
        })?;
        let flat = drawn.flat(&|_| true)?;
        let mut table = OnTable::of(drawn, flat);
        if let Some(id) = instead {
            let other = self.staged(id)?.drawing()?;
            let own = &table.drawn.said.options;
            // The size is the new one's own.
            let options = DrawingOptions {
                width_mm: None,
                ..own.clone()
            };
            table = table.anew(&other.drawn.bytes, &other.drawn.said.file, options)?;
            self.unstage(id)?;
        }
        let file = table.drawn.said.file.clone();
        self.put_on_table(&file, table)
    }
}
