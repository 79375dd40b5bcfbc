//! From a job to what the browser shows.

use crate::wire::{JobView, ModelView, PartView, RegionView, SlotView};
use varichrom_core::job::{History, Job, JobModel};
use varichrom_core::machine::Spool;
use varichrom_core::mesh::facet_normal;
use varichrom_core::plan::Filament;

pub(super) fn job_view(
    id: i32,
    revision: u32,
    history: &History,
    floor: usize,
    rack: &[Spool],
) -> JobView {
    let job = history.job();
    JobView {
        id,
        name: job.name.clone(),
        revision,
        can_undo: history.head() > floor,
        can_redo: history.head() < history.edits().len(),
        models: job.models.iter().map(model_view).collect(),
        regions: region_views(job),
        slots: (0..job.printer.slots)
            .map(|slot| {
                let loaded = job.slots[slot as usize].as_ref();
                SlotView {
                    slot: slot + 1,
                    spool: loaded
                        .and_then(|id| rack.iter().find(|s| s.id == *id))
                        .cloned(),
                    colour: Filament::in_slot(job, rack, slot).pigment.colour,
                }
            })
            .collect(),
        printer: job.printer.clone(),
    }
}

fn region_views(job: &Job) -> Vec<RegionView> {
    let mut facets = vec![0usize; job.regions.len()];
    let mut areas = vec![0f64; job.regions.len()];
    for (index, model) in job.models.iter().enumerate() {
        for (facet, area) in model.open.facet_areas().iter().enumerate() {
            let region = job.region_of_facet(index, facet as u32) as usize;
            facets[region] += 1;
            areas[region] += area;
        }
    }
    let whole: f64 = areas.iter().sum();
    job.live_regions()
        .map(|(number, r)| RegionView {
            key: r.key.clone(),
            number,
            name: r.name.clone(),
            colour: r.colour,
            slot: r.slot,
            soak_mm: r.soak_mm,
            facets: facets[number as usize],
            surface_share: if whole > 0.0 {
                areas[number as usize] / whole
            } else {
                0.0
            },
        })
        .collect()
}

fn model_view(model: &JobModel) -> ModelView {
    let open = &model.open;
    ModelView {
        name: model.name.clone(),
        file: model.file.clone(),
        format: open.origin.format.into(),
        size_mm: open.mesh.bounds().size(),
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
            .map(|(named, part)| {
                let corners = open.mesh.corners(part.first_facet);
                let [a, b, c] = corners;
                PartView {
                    name: named.name.clone(),
                    facets: part.facets,
                    closed: part.is_closed,
                    volume_mm3: part.measures.volume_mm3,
                    own: named.own,
                    point: [0, 1, 2].map(|i| (a[i] + b[i] + c[i]) / 3.0),
                    normal: facet_normal(&corners).unwrap_or([0.0, 0.0, 1.0]),
                    encloses: part
                        .encloses
                        .iter()
                        .map(|p| model.parts[*p as usize].name.clone())
                        .collect(),
                }
            })
            .collect(),
    }
}
