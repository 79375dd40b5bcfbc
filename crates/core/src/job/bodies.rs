//! From a job to what the layers are made of.

use super::state::Job;
use crate::layers::{Body, Claims};

impl Job {
    /// The parts to be printed, highest rank first: a part enclosed in another ranks above it, else the order of the
    /// parts lists counts. All models together stand on the bed; x and y stay as they are in the files.
    pub fn bodies(&self) -> Vec<Body> {
        let shift = self.bed_shift();
        let mut ranked: Vec<(usize, Body)> = Vec::new();
        for (index, model) in self.models.iter().enumerate() {
            for part in 0..model.open.parts.len() as u32 {
                let depth = model
                    .open
                    .parts
                    .iter()
                    .filter(|p| p.encloses.contains(&part))
                    .count();
                ranked.push((
                    depth,
                    Body {
                        model: index,
                        open: model.open.clone(),
                        part,
                        shift,
                    },
                ));
            }
        }
        ranked.sort_by_key(|(depth, _)| std::cmp::Reverse(*depth));
        ranked.into_iter().map(|(_, body)| body).collect()
    }

    /// Which region claims what, in the order of [`Job::bodies`].
    pub fn claims(&self) -> Claims<'_> {
        let bodies = self.bodies();
        let model_of = |body: &Body| &self.models[body.model];
        Claims {
            labels: bodies.iter().map(|b| &model_of(b).labels).collect(),
            own: bodies
                .iter()
                .map(|b| model_of(b).parts[b.part as usize].own)
                .collect(),
            soak_mm: self.regions.iter().map(|r| r.soak_mm).collect(),
        }
    }

    /// The deepest soak of any region, mm.
    pub fn deepest_soak_mm(&self) -> f64 {
        self.live_regions()
            .map(|(_, r)| r.soak_mm)
            .fold(0.0, f64::max)
    }
}
