//! From a job to what the browser shows.

use crate::wire::{GroupView, JobView, ModelView, PartView, PlaceView, RegionView, SlotView};
use varichrom_core::advice::filament_in_slot;
use varichrom_core::advice::intake::size_doubt;
use varichrom_core::drawing::is_drawing_name;
use varichrom_core::formats::FileColours;
use varichrom_core::job::{History, Job, JobModel, LengthUnit};
use varichrom_core::machine::Spool;
use varichrom_core::mesh::Affine;
use varichrom_core::rules::Copies;

pub(super) fn job_view(
    id: i32,
    revision: u32,
    history: &History,
    floor: usize,
    rack: &[Spool],
) -> JobView {
    let job = history.job();
    let bounds = job.bounds();
    let size_mm = bounds.size();
    let is_mixing = job.printer.profile().mixes.is_some();
    let on_rack = |id: &String| rack.iter().find(|s| s.id == *id).cloned();
    JobView {
        id,
        name: job.name.clone(),
        revision,
        step: history.head() as u32,
        can_undo: history.head() > floor,
        can_redo: history.head() < history.edits().len(),
        models: job.models.iter().map(|m| model_view(job, m)).collect(),
        part_order: job.order.clone(),
        groups: job
            .groups
            .iter()
            .map(|g| GroupView {
                key: g.key.clone(),
                name: g.name.clone(),
                inside: g.inside.clone(),
            })
            .collect(),
        regions: region_views(job),
        changes: history.changes(),
        machine: job.printer.profile(),
        slots: (0..job.printer.slots)
            .map(|slot| {
                let loaded = job.slots[slot as usize].as_ref();
                SlotView {
                    slot: slot + 1,
                    shares: is_mixing.then(|| job.mixture(slot)),
                    spool: loaded.filter(|_| !is_mixing).and_then(on_rack),
                    colour: filament_in_slot(job, rack, slot).pigment.colour,
                }
            })
            .collect(),
        places: job
            .loaded()
            .iter()
            .zip(&job.places)
            .zip(1u8..)
            .map(|((id, machine_place), place)| PlaceView {
                place,
                machine_place: *machine_place,
                spool: id.as_ref().and_then(on_rack),
            })
            .collect(),
        printer: job.printer.clone(),
        rules: job.rules.clone(),
        low_mm: bounds.min,
        size_mm,
        copies: job.copies,
        copy_shifts: job.copies.shifts(size_mm),
        most_copies: Copies::most(size_mm, job.printer.bed_mm, job.copies.spacing_mm),
        lost: job.lost.clone(),
    }
}

/// What a file carried besides the shape, in words.
fn carried(model: &JobModel) -> Vec<String> {
    let origin = &model.base.origin;
    let mut out = Vec::new();
    if let Some(colours) = &origin.colours {
        let named = colours
            .palette
            .iter()
            .filter(|c| !c.name.is_empty())
            .count();
        let is_plain = colours.varying.is_empty();
        if !colours.pictured.is_empty() {
            out.push(count(colours.pictures.len(), "picture", "pictures"));
        }
        out.push(match (is_plain, named) {
            (false, _) => "blended colours".to_string(),
            (true, 0) if colours.palette.is_empty() => String::new(),
            (true, 0) => count(colours.palette.len(), "colour", "colours"),
            (true, n) => format!("{} with names", count(n, "colour", "colours")),
        });
    }
    out.retain(|words| !words.is_empty());
    let names = model.base.part_names.iter().flatten().count();
    if names > 0 {
        out.push(count(names, "part name", "part names"));
    }
    if origin.units.is_stated {
        out.push("units".into());
    }
    if !origin.metadata.is_empty() {
        out.push("notes".into());
    }
    out
}

fn count(n: usize, one: &str, many: &str) -> String {
    format!("{n} {}", if n == 1 { one } else { many })
}

/// What a mesh is told apart by: its file, and where its parts stand.
fn mesh_key(model: &JobModel) -> String {
    let open = &model.open;
    let mut bits: Vec<u64> = vec![
        open.mesh.facets.len() as u64,
        open.mesh.vertices.len() as u64,
        open.volume_mm3().to_bits(),
        open.area_mm2().to_bits(),
    ];
    bits.extend(open.parts.iter().map(|p| u64::from(p.facets)));
    bits.extend(open.defects.iter().map(|d| u64::from(d.count)));
    for part in &model.parts {
        bits.extend(part.map.0.iter().flatten().map(|c| c.to_bits()));
    }
    // FNV-1a, enough to tell one state of a model from the next.
    let hash = bits
        .iter()
        .flat_map(|b| b.to_le_bytes())
        .fold(0xcbf2_9ce4_8422_2325, |h: u64, b| {
            (h ^ u64::from(b)).wrapping_mul(0x100_0000_01b3)
        });
    format!("{:.12}-{hash:016x}", model.content)
}

fn region_views(job: &Job) -> Vec<RegionView> {
    let tallies = job.region_tallies();
    let whole: f64 = tallies.iter().map(|t| t.area_mm2).sum();
    let share = |area: f64| if whole > 0.0 { area / whole } else { 0.0 };
    job.live_regions()
        .map(|(number, r)| RegionView {
            key: r.key.clone(),
            number,
            name: r.name.clone(),
            colour: r.colour,
            slot: r.slot,
            is_proposed: r.is_proposed,
            depth: r.depth,
            is_protected: r.is_protected,
            facets: tallies[number as usize].facets,
            surface_share: share(tallies[number as usize].area_mm2),
        })
        .collect()
}

/// Enclosed parts that are named in a list of them.
const MOST_NAMED: usize = 5;

fn model_view(job: &Job, model: &JobModel) -> ModelView {
    let open = &model.open;
    let origin = &model.base.origin;
    let stated_unit = origin
        .units
        .is_stated
        .then(|| LengthUnit::of_mm(origin.units.mm));
    let bounds = open.bounds();
    let file_mm = model.base.bounds().size();
    let colours = origin.colours.as_ref();
    let mut enclosed_by = vec![0; open.parts.len()];
    for inner in open.parts.iter().flat_map(|p| &p.encloses) {
        enclosed_by[*inner as usize] += 1;
    }
    ModelView {
        mesh_key: mesh_key(model),
        unit: model.unit,
        stated_unit,
        file_size: file_mm.map(|c| c / origin.units.mm),
        is_placed: model.parts.iter().any(|p| p.map != Affine::IDENTITY),
        doubt: size_doubt(
            bounds.size(),
            model.unit,
            stated_unit == Some(model.unit),
            job.printer.bed_mm,
        ),
        file_colours: colours.map_or(0, |c| c.palette.len() + usize::from(c.is_blended())),
        has_blends: colours.is_some_and(FileColours::is_blended),
        colours_kept: model.colours_kept,
        carried: carried(model),
        left_out: origin.left_out.clone(),
        cannot_say: origin.cannot_say().into(),
        metadata: origin.metadata.clone(),
        low_mm: bounds.min,
        name: model.name.clone(),
        is_drawn: is_drawing_name(&model.file),
        file: model.file.clone(),
        format: open.origin.format.into(),
        size_mm: bounds.size(),
        facets: open.mesh.facets.len(),
        vertices: open.mesh.vertices.len(),
        closed: open.is_closed(),
        volume_mm3: open.volume_mm3(),
        area_mm2: open.area_mm2(),
        defects: open.defects.clone(),
        parts: model
            .parts
            .iter()
            .zip(&open.parts)
            .zip(open.namers())
            .enumerate()
            .map(|(at, ((named, part), namer))| PartView {
                name: named.name.clone(),
                facets: part.facets,
                closed: part.is_closed,
                size_mm: part.measures.bounds.size(),
                volume_mm3: part.measures.volume_mm3,
                centre_mm: part.measures.bounds.centre(),
                own: named.own,
                point: namer.point,
                normal: namer.normal,
                encloses: part
                    .encloses
                    .iter()
                    .take(MOST_NAMED)
                    .map(|p| model.parts[*p as usize].name.clone())
                    .collect(),
                enclosed_count: part.encloses.len(),
                enclosed_by: enclosed_by[at],
                key: named.key,
                group: named.group.clone(),
                is_locked: named.is_locked,
                is_printed: named.is_printed,
                skipped_passes: named.skipped_passes.clone(),
                made_of: named.made_of.clone(),
                opacity: named.opacity,
            })
            .collect(),
    }
}
