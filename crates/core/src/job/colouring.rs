//! What the tools of Colour take: from an edit to the facets that change.

use super::apply::refuse;
use super::edit::{AlikeTo, Edit};
use super::state::{Job, OWN_REGION};
use crate::Problem;
use crate::carve::{Cutting, Held, Label, Labels, Pieces, TOLERANCE_MM, cut, painted};
use crate::layers::LayerHeights;
use crate::mesh::{OpenMesh, facet_area};
use crate::regions::{
    BandField, LassoError, LassoField, Limits, PathField, Place, Reach, Sight, Stroke, Within,
    alike_patches, congruent_parts,
};
use std::sync::Arc;

/// What an edit changes on one model: facets in ascending order, with what they have afterwards.
pub(super) struct Taken {
    pub(super) model: usize,
    pub(super) changes: Vec<(u32, Held)>,
}

/// What an edit would take, for showing it before it is done.
#[derive(Debug, Clone, PartialEq)]
pub struct Preview {
    /// Its area, mm².
    pub area_mm2: f64,
    /// For each model, the pieces it takes: whole facets by number, then triangles of divided ones counted on from
    /// there, as [`Pieces`] numbers them.
    pub pieces: Vec<Vec<u32>>,
    /// How many separate parts or patches it takes.
    pub count: usize,
}

pub(super) const RADII_MM: std::ops::RangeInclusive<f64> = 0.05..=100.0;

impl Job {
    /// The region an edit gives surface to; none for the part's own.
    pub(super) fn taker(&self, region: &str) -> Result<Option<u16>, Problem> {
        if region == OWN_REGION {
            return Ok(None);
        }
        self.number(region).map(Some)
    }

    /// Region number of a label on a facet of a model.
    pub fn region_of_label(&self, model: usize, facet: u32, label: Label) -> u16 {
        let m = &self.models[model];
        label.unwrap_or_else(|| m.parts[m.open.part_of[facet as usize] as usize].own)
    }

    /// What becomes of a label when its surface is given to a region: protected regions keep theirs.
    pub(super) fn given(&self, model: usize, facet: u32, label: Label, to: Option<u16>) -> Label {
        let now = self.region_of_label(model, facet, label);
        if self.regions[now as usize].is_protected {
            return label;
        }
        let own = self.region_of_label(model, facet, None);
        to.filter(|region| *region != own)
    }

    /// Facets whose pieces are given to a region.
    fn give_facets(&self, model: usize, facets: &[u32], to: Option<u16>) -> Vec<(u32, Held)> {
        let m = &self.models[model];
        let paint = |f: u32, _: [f64; 3], l: Label| self.given(model, f, l, to);
        let new = |f: &u32| painted(&m.open, &m.labels, *f, &paint).map(|held| (*f, held));
        facets.iter().filter_map(new).collect()
    }

    /// Single pieces, ascending, passed through `paint`.
    fn paint_pieces(
        &self,
        model: usize,
        pieces: &Pieces<'_>,
        chosen: &[u32],
        paint: &dyn Fn(u32, Label) -> Label,
    ) -> Vec<(u32, Held)> {
        let m = &self.models[model];
        let mut changes = Vec::new();
        for group in chosen.chunk_by(|a, b| pieces.facet(*a) == pieces.facet(*b)) {
            let facet = pieces.facet(group[0]);
            let held = match m.labels.held(facet) {
                Held::Whole(label) => Held::Whole(paint(facet, label)),
                Held::Divided(divided) => {
                    let is_chosen = |t: usize| {
                        let same = |p: &u32| pieces.triangle(*p) == Some(t as u32);
                        group.iter().any(same)
                    };
                    let new =
                        divided.relabelled(|t, l| if is_chosen(t) { paint(facet, l) } else { l });
                    Held::Divided(Arc::new(new))
                }
            };
            if held != m.labels.held(facet) {
                changes.push((facet, held));
            }
        }
        changes.sort_by_key(|(f, _)| *f);
        changes
    }

    /// What an edit of Colour takes; none for an edit of another kind.
    pub(super) fn taken(&self, edit: &Edit) -> Result<Option<Vec<Taken>>, Problem> {
        let one = |model: usize, changes: Vec<(u32, Held)>| vec![Taken { model, changes }];
        Ok(Some(match edit {
            Edit::GivePatch {
                region,
                at,
                crease_deg,
                within,
                turn_deg,
            } => {
                check_crease(*crease_deg)?;
                if let Some(turn) = turn_deg.filter(|t| !(1.0..=180.0).contains(t)) {
                    let message = format!("A turn of {turn}° cannot be the limit");
                    let mend = "Choose an angle from 1 to 180 degrees.";
                    return Err(refuse("turn-out-of-range", message, "turn_deg", mend));
                }
                let to = self.taker(region)?;
                let (model, seed) = self.find(at)?;
                let m = &self.models[model];
                let creases = m.open.creases();
                if *within == Within::Part && turn_deg.is_none() {
                    let facets = creases.flood(&m.open.topology, seed, *crease_deg);
                    return Ok(Some(one(model, self.give_facets(model, &facets, to))));
                }
                let pieces = Pieces::of(&m.open, &m.labels);
                let region_of =
                    |p: u32| self.region_of_label(model, pieces.facet(p), pieces.label(p));
                let limits = Limits {
                    pieces: &pieces,
                    region_of: (*within == Within::Region).then_some(&region_of),
                    turn_deg: *turn_deg,
                    crosses_parts: *within == Within::Everywhere,
                };
                let start = pieces.at(seed, at.point);
                let chosen = creases.flood_within(&m.open, start, *crease_deg, &limits);
                let paint = |f: u32, l: Label| self.given(model, f, l, to);
                one(model, self.paint_pieces(model, &pieces, &chosen, &paint))
            }
            Edit::GiveRelief {
                region,
                at,
                crease_deg,
                all,
            } => {
                check_crease(*crease_deg)?;
                let to = self.taker(region)?;
                let (model, seed) = self.find(at)?;
                let open = &self.models[model].open;
                let facets = open.creases().relief(open, seed, *crease_deg, *all);
                one(model, self.give_facets(model, &facets, to))
            }
            Edit::GiveStroke {
                region,
                reach,
                stroke,
            } => {
                let to = self.taker(region)?;
                let model = self.model_number(&stroke.model)?;
                one(model, self.stroke(model, stroke, *reach, to)?)
            }
            Edit::GiveFacets { region, at, flat } => {
                let to = self.taker(region)?;
                self.single_facets(at, *flat, to)?
            }
            Edit::GiveBand { region, .. } => {
                let to = self.taker(region)?;
                self.bands(edit, to)?
            }
            Edit::GiveLasso {
                region,
                outline,
                sight,
                through,
            } => {
                let to = self.taker(region)?;
                self.lasso(outline, sight, *through, to)?
            }
            Edit::GiveAlike {
                region,
                at,
                to,
                crease_deg,
            } => self.alike(region, at, *to, *crease_deg)?.0,
            Edit::GrowRegion { region, by_mm } => self.grow(region, *by_mm)?,
            Edit::SmoothRegion { region, by_mm } => self.smooth(region, *by_mm)?,
            Edit::InvertRegion { region } => {
                let number = self.number(region)?;
                self.exchanged("nothing-to-invert", &|now| match now {
                    0 => Some(number),
                    now if now == number => Some(0),
                    _ => None,
                })?
            }
            Edit::GiveRest { region } => {
                let number = self.number(region)?;
                self.exchanged("nothing-left", &|now| (now == 0).then_some(number))?
            }
            Edit::GiveStray { at } => self.stray(at)?,
            Edit::GiveStrays {
                smaller_mm2,
                narrower_mm,
            } => self.strays_away(*smaller_mm2, *narrower_mm)?,
            _ => return Ok(None),
        }))
    }

    fn stroke(
        &self,
        model: usize,
        stroke: &Stroke,
        reach: Reach,
        to: Option<u16>,
    ) -> Result<Vec<(u32, Held)>, Problem> {
        const MOST_POINTS: usize = 20_000;
        let radius = stroke.radius_mm;
        if !RADII_MM.contains(&radius) {
            let message = format!("A stroke of {radius} mm radius cannot be drawn");
            let mend = "Choose a radius from 0.05 to 100 mm.";
            return Err(refuse("radius-out-of-range", message, "radius_mm", mend));
        }
        if stroke.path.is_empty() || stroke.path.len() > MOST_POINTS {
            let message = format!("A stroke of {} points cannot be drawn", stroke.path.len());
            let mend = "Draw it in shorter strokes.";
            return Err(refuse("stroke-length", message, "path", mend));
        }
        let numbers = stroke.path.iter().flatten().chain(&stroke.eye);
        if numbers.into_iter().any(|c| !c.is_finite()) {
            let message = "The stroke is not made of usable numbers";
            return Err(refuse(
                "stroke-not-a-number",
                message,
                "path",
                "Draw it again.",
            ));
        }
        let m = &self.models[model];
        let field = PathField::along(&stroke.path, radius);
        let facets = stroke.facets(&m.open, &field, reach);
        if facets.is_empty() {
            let [x, y, z] = stroke.path[0];
            let name = &stroke.model;
            let message = format!(
                "The stroke at {x:.2}, {y:.2}, {z:.2} mm does not lie on the surface of {name}"
            );
            let mend = "Draw on the model.";
            return Err(refuse("stroke-off-the-mesh", message, "path", mend));
        }
        Ok(self.cut_along(model, &field, &facets, to))
    }

    fn cut_along(
        &self,
        model: usize,
        field: &dyn crate::carve::Field,
        facets: &[u32],
        to: Option<u16>,
    ) -> Vec<(u32, Held)> {
        let m = &self.models[model];
        let cutting = Cutting {
            open: &m.open,
            labels: &m.labels,
            field,
            tolerance_mm: TOLERANCE_MM,
        };
        cut(&cutting, facets, &|f, _, l| self.given(model, f, l, to))
    }

    fn single_facets(
        &self,
        at: &[Place],
        flat: bool,
        to: Option<u16>,
    ) -> Result<Vec<Taken>, Problem> {
        // A turn that no eye sees: facets of one flat face.
        const FLAT_DEG: f64 = 0.5;
        if at.is_empty() {
            let message = "No facet is named";
            return Err(refuse("facets-none", message, "at", "Click on a facet."));
        }
        let mut chosen: Vec<Vec<u32>> = vec![Vec::new(); self.models.len()];
        for place in at {
            let (model, facet) = self.find(place)?;
            if flat {
                let open = &self.models[model].open;
                let face = open.creases().flood(&open.topology, facet, FLAT_DEG);
                chosen[model].extend(face);
            } else {
                chosen[model].push(facet);
            }
        }
        let taken = chosen.into_iter().enumerate().map(|(model, mut facets)| {
            facets.sort_unstable();
            facets.dedup();
            Taken {
                model,
                changes: self.give_facets(model, &facets, to),
            }
        });
        Ok(taken.collect())
    }

    /// Heights of the bands of an edit, above the bed: snapped to layers if it says so.
    pub fn band_heights(&self, edit: &Edit) -> Result<Vec<(f64, f64)>, Problem> {
        let Edit::GiveBand {
            low_mm,
            high_mm,
            snap,
            count,
            pitch_mm,
            ..
        } = edit
        else {
            return Ok(Vec::new());
        };
        let (low, high) = (low_mm.min(*high_mm), low_mm.max(*high_mm));
        let tall = self.bounds().size()[2];
        if !(high - low).is_finite() || high - low < 1e-3 {
            let message = "The band has no height";
            let mend = "Type two different heights.";
            return Err(refuse("band-empty", message, "high_mm", mend));
        }
        const MOST_BANDS: u32 = 500;
        if !(1..=MOST_BANDS).contains(count) {
            let message = format!("{count} bands cannot be stacked");
            return Err(refuse("band-count", message, "count", "Type 1 to 500."));
        }
        if *count > 1 && *pitch_mm < high - low {
            let message = format!(
                "Bands of {:.2} mm at a pitch of {pitch_mm:.2} mm run into each other",
                high - low
            );
            let mend = "Type a pitch larger than the height of a band.";
            return Err(refuse("band-pitch", message, "pitch_mm", mend));
        }
        if low >= tall || high <= 0.0 {
            let message = format!(
                "The band from {low:.2} to {high:.2} mm misses the model, which is {tall:.2} mm tall"
            );
            let mend = "Type heights above the bed, in mm.";
            return Err(refuse("band-outside", message, "low_mm", mend));
        }
        let p = &self.printer;
        let layers = LayerHeights::new(tall + p.layer_mm, p.first_layer_mm, p.layer_mm);
        let bands = (0..*count).map(|n| {
            let lift = f64::from(n) * pitch_mm;
            let (low, high) = (low + lift, high + lift);
            if *snap {
                layers.snapped(low, high)
            } else {
                (low, high)
            }
        });
        let mut bands: Vec<(f64, f64)> = bands.filter(|b| b.0 < tall).collect();
        // Snapped bands may have come to touch.
        bands.dedup_by(|next, band| {
            let touches = next.0 <= band.1 + 1e-9;
            if touches {
                band.1 = band.1.max(next.1);
            }
            touches
        });
        Ok(bands)
    }

    fn bands(&self, edit: &Edit, to: Option<u16>) -> Result<Vec<Taken>, Problem> {
        let Edit::GiveBand { at, .. } = edit else {
            return Ok(Vec::new());
        };
        let foot = self.bounds().min[2];
        let heights = self.band_heights(edit)?;
        let field = BandField::new(heights.iter().map(|b| (b.0 + foot, b.1 + foot)).collect());
        let on = at.as_ref().map(|at| self.find(at)).transpose()?;
        let models = 0..self.models.len();
        let taken = models.filter_map(|model| {
            let open = &self.models[model].open;
            let part = match on {
                Some((of, _)) if of != model => return None,
                Some((_, facet)) => Some(open.part_of[facet as usize]),
                None => None,
            };
            let facets = field.facets(open, part);
            let changes = self.cut_along(model, &field, &facets, to);
            Some(Taken { model, changes })
        });
        Ok(taken.collect())
    }

    fn lasso(
        &self,
        outline: &[[f64; 2]],
        sight: &Sight,
        through: bool,
        to: Option<u16>,
    ) -> Result<Vec<Taken>, Problem> {
        const MOST_CORNERS: usize = 4000;
        let is_usable = outline.len() <= MOST_CORNERS
            && outline
                .iter()
                .flatten()
                .chain(&sight.eye)
                .all(|c| c.is_finite());
        let field = if is_usable {
            LassoField::new(sight, outline)
        } else {
            Err(LassoError::View)
        };
        let field = field.map_err(|e| {
            let (code, mend) = match e {
                LassoError::Empty => ("lasso-empty", "Draw around some surface."),
                LassoError::CrossesItself => {
                    ("lasso-crosses-itself", "Draw it again without a loop.")
                }
                LassoError::View => ("lasso-view", "Draw it again."),
            };
            let mut message = e.to_string();
            message[..1].make_ascii_uppercase();
            refuse(code, message, "outline", mend)
        })?;
        let taken = self.models.iter().enumerate().map(|(model, m)| {
            let facets = field.facets(&m.open, through);
            let changes = self.cut_along(model, &field, &facets, to);
            Taken { model, changes }
        });
        Ok(taken.collect())
    }

    /// What is alike, and how many parts or patches that are besides the one clicked.
    fn alike(
        &self,
        region: &str,
        at: &Place,
        to: AlikeTo,
        crease_deg: f64,
    ) -> Result<(Vec<Taken>, usize), Problem> {
        check_crease(crease_deg)?;
        let (model, facet) = self.find(at)?;
        let m = &self.models[model];
        let part = m.open.part_of[facet as usize];
        if to == AlikeTo::Patches {
            let number = self.taker(region)?;
            let partition = m.open.creases().partition(&m.open.topology, crease_deg);
            let patch = partition.patch_of[facet as usize];
            let alike = alike_patches(&m.open, &partition, patch);
            let facets: Vec<u32> = (0..partition.patch_of.len() as u32)
                .filter(|f| {
                    alike
                        .binary_search(&partition.patch_of[*f as usize])
                        .is_ok()
                })
                .collect();
            let changes = self.give_facets(model, &facets, number);
            return Ok((vec![Taken { model, changes }], alike.len()));
        }
        let number = self.number(region)?;
        let twins = congruent_parts(&m.open, part);
        if twins.is_empty() {
            let name = &m.parts[part as usize].name;
            let message = format!("No other part has the shape of {name}");
            let mend = "Choose a part that has copies, or use Alike on patches.";
            return Err(refuse("alike-none", message, "at", mend));
        }
        let originals: Vec<u32> = (0..m.open.part_of.len() as u32)
            .filter(|f| m.open.part_of[*f as usize] == part)
            .collect();
        let is_divided = |f: u32| m.labels.division(f).is_some();
        let mut changes = Vec::new();
        for twin in &twins {
            // Borders that the copy has by itself give way, so that its facets meet as the original's do.
            let gives_way = originals.iter().any(|f| is_divided(*f))
                && twin.facets.iter().any(|(f, _)| is_divided(*f));
            for (from, (facet, order)) in originals.iter().zip(&twin.facets) {
                let corners = m.open.mesh.corners(*facet);
                let before = |middle: [f64; 3]| {
                    let shares = crate::carve::shares_at(middle, &corners);
                    m.labels.at(*facet, shares)
                };
                let paint = |of: Label, middle: [f64; 3]| {
                    let label = before(middle);
                    if self.region_of_label(model, *from, of) == number {
                        self.given(model, *facet, label, Some(number))
                    } else {
                        label
                    }
                };
                let centre =
                    [0, 1, 2].map(|i| (corners[0][i] + corners[1][i] + corners[2][i]) / 3.0);
                let held = match m.labels.held(*from) {
                    Held::Divided(divided) => {
                        let turned = divided.renumbered(*order);
                        let of: Vec<Label> = turned.labels.clone();
                        let new = turned.relabelled(|t, _| {
                            let c = turned.corners(t, &corners);
                            paint(
                                of[t],
                                [0, 1, 2].map(|i| (c[0][i] + c[1][i] + c[2][i]) / 3.0),
                            )
                        });
                        Held::Divided(Arc::new(new))
                    }
                    Held::Whole(label) if gives_way || !is_divided(*facet) => {
                        Held::Whole(paint(label, centre))
                    }
                    Held::Whole(label) => {
                        let is_given = self.region_of_label(model, *from, label) == number;
                        let keep = |f: u32, _: [f64; 3], l: Label| {
                            if is_given {
                                self.given(model, f, l, Some(number))
                            } else {
                                l
                            }
                        };
                        match painted(&m.open, &m.labels, *facet, &keep) {
                            Some(held) => held,
                            None => continue,
                        }
                    }
                };
                if held != m.labels.held(*facet) {
                    changes.push((*facet, held));
                }
            }
        }
        changes.sort_by_key(|(f, _)| *f);
        Ok((vec![Taken { model, changes }], twins.len()))
    }

    /// Regions exchanged all over: `to` says for the number of a region which one gets its surface, if another does.
    fn exchanged(
        &self,
        nothing: &str,
        to: &dyn Fn(u16) -> Option<u16>,
    ) -> Result<Vec<Taken>, Problem> {
        let mut taken = Vec::new();
        for (model, m) in self.models.iter().enumerate() {
            let paint = |f: u32, _: [f64; 3], l: Label| match to(self.region_of_label(model, f, l))
            {
                Some(region) => self.given(model, f, l, Some(region)),
                None => l,
            };
            let changes: Vec<(u32, Held)> = (0..m.labels.len() as u32)
                .filter_map(|f| painted(&m.open, &m.labels, f, &paint).map(|h| (f, h)))
                .collect();
            taken.push(Taken { model, changes });
        }
        if taken.iter().all(|t| t.changes.is_empty()) {
            let message = "There is no surface left that this would change";
            let mend = "Choose another region, or take the protection off.";
            return Err(refuse(nothing, message, "region", mend));
        }
        Ok(taken)
    }

    /// What an edit of Colour would take, without doing it. Bands, strokes and outlines are shown as they are drawn and
    /// have no preview.
    ///
    /// # Errors
    /// What the edit itself would be refused for; `preview-none` for an edit that has none.
    pub fn preview(&self, edit: &Edit) -> Result<Preview, Problem> {
        let (taken, count) = match edit {
            Edit::GiveAlike {
                region,
                at,
                to,
                crease_deg,
            } => self.alike(region, at, *to, *crease_deg)?,
            _ => (self.taken(edit)?.unwrap_or_default(), 1),
        };
        let mut area_mm2 = 0.0;
        let mut pieces: Vec<Vec<u32>> = vec![Vec::new(); self.models.len()];
        for Taken { model, changes } in taken {
            let m = &self.models[model];
            let view = Pieces::of(&m.open, &m.labels);
            for (facet, held) in changes {
                match (m.labels.held(facet), held) {
                    (Held::Divided(old), Held::Divided(new))
                        if old.triangles.len() == new.triangles.len() =>
                    {
                        let first = view.first_of(facet);
                        for t in 0..new.triangles.len() {
                            if old.labels[t] != new.labels[t] {
                                pieces[model].push(first + t as u32);
                                area_mm2 += facet_area(&view.corners(first + t as u32));
                            }
                        }
                    }
                    _ => {
                        pieces[model].push(facet);
                        area_mm2 += m.open.facet_areas()[facet as usize];
                    }
                }
            }
            pieces[model].sort_unstable();
        }
        Ok(Preview {
            area_mm2,
            pieces,
            count,
        })
    }
}

pub(super) fn check_crease(crease_deg: f64) -> Result<(), Problem> {
    if (1.0..=90.0).contains(&crease_deg) {
        return Ok(());
    }
    Err(refuse(
        "crease-out-of-range",
        format!("A crease angle of {crease_deg}° cannot be used"),
        "crease_deg",
        "Choose an angle from 1 to 90 degrees.",
    ))
}

/// Divisions that no longer separate anything are undone, as far as the facets around them allow: a facet of one label
/// becomes whole if every neighbour that shares points on an edge becomes whole with it. Returns what changes.
pub(super) fn settled(open: &OpenMesh, labels: &Labels, touched: &[u32]) -> Vec<(u32, Held)> {
    use std::collections::BTreeSet;
    let is_one = |f: &u32| {
        labels
            .division(*f)
            .is_some_and(|d| d.only_label().is_some())
    };
    let mut may: BTreeSet<u32> = BTreeSet::new();
    let mut waiting: Vec<u32> = touched.iter().copied().filter(is_one).collect();
    while let Some(facet) = waiting.pop() {
        if may.insert(facet) {
            let around = open.topology.across[facet as usize];
            waiting.extend(
                around
                    .into_iter()
                    .filter(|f| *f != crate::mesh::NO_FACET)
                    .filter(is_one),
            );
        }
    }
    // Who shares points with a facet that stays divided has to stay as well.
    let mut unsure: Vec<u32> = may.iter().copied().collect();
    while let Some(facet) = unsure.pop() {
        if !may.contains(&facet) {
            continue;
        }
        let Some(divided) = labels.division(facet) else {
            continue;
        };
        let across = open.topology.across[facet as usize];
        let stays = divided.sides_with_points().into_iter().any(|side| {
            let other = across[side];
            other != crate::mesh::NO_FACET
                && labels.division(other).is_some()
                && !may.contains(&other)
        });
        if stays {
            may.remove(&facet);
            unsure.extend(across.into_iter().filter(|f| may.contains(f)));
        }
    }
    may.into_iter()
        .filter_map(|f| {
            let label = labels.division(f)?.only_label()?;
            Some((f, Held::Whole(label)))
        })
        .collect()
}
