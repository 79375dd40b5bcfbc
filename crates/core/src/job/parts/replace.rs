//! Putting other bodies in place of some of a model's parts.

use crate::carve::{Held, Labels};
use crate::geometry::Affine;
use crate::job::state::{Job, JobPart};
use crate::mesh::Mesh;
use crate::model::OpenMesh;
use crate::solids::Solid;
use std::sync::Arc;

/// A body that takes the place of a part, as it stands now.
pub(super) struct NewPart {
    pub(super) solid: Solid,
    pub(super) part: JobPart,
}

impl NewPart {
    /// A body that goes on as a part does.
    pub(super) fn instead(part: &JobPart, solid: Solid) -> NewPart {
        NewPart {
            solid,
            part: part.clone(),
        }
    }

    /// A further body made from a part, of another name and region.
    pub(super) fn beside(part: &JobPart, solid: Solid, name: String, own: u16) -> NewPart {
        NewPart {
            solid,
            part: JobPart {
                name,
                own,
                key: 0,
                ..part.clone()
            },
        }
    }
}

impl Job {
    /// A part as it stands now, on its own.
    pub(crate) fn solid(&self, model: usize, part: usize) -> Solid {
        let m = &self.models[model];
        Solid::of_part(&m.open, &m.labels, part as u32).0
    }

    /// All parts of a model as they stand now.
    pub(crate) fn solids(&self, model: usize) -> Vec<Solid> {
        let m = &self.models[model];
        Solid::of_each(&m.open, &m.labels)
    }

    /// Puts bodies in place of parts: for each number of a part the bodies that follow it, none to take it out.
    /// Other parts keep their facets and everything on them.
    pub(super) fn replace_parts(&mut self, model: usize, new: Vec<(usize, Vec<NewPart>)>) {
        let m = &self.models[model];
        let mut vertices: Vec<[f64; 3]> = Vec::new();
        let mut facets: Vec<[u32; 3]> = Vec::new();
        let mut held: Vec<Held> = Vec::new();
        let mut inner: Vec<bool> = Vec::new();
        let mut facets_of: Vec<u32> = Vec::new();
        let mut parts: Vec<JobPart> = Vec::new();
        let mut of_part: Vec<Vec<u32>> = vec![Vec::new(); m.parts.len()];
        for (facet, part) in m.base.part_of.iter().enumerate() {
            of_part[*part as usize].push(facet as u32);
        }
        let mut new: Vec<(usize, Vec<NewPart>)> = new;
        // In the list they stand where the part stood.
        for (part, bodies) in &mut new {
            // Which of them the teeth are on now, nobody knows.
            if bodies.len() > 1 {
                bodies.iter_mut().for_each(|b| b.part.held_to.clear());
            }
            for body in bodies.iter_mut().filter(|b| b.part.key == 0) {
                self.last_part += 1;
                body.part.key = self.last_part;
            }
            let key = m.parts[*part].key;
            if let Some(at) = self.order.iter().position(|k| *k == key) {
                self.order
                    .splice(at..=at, bodies.iter().map(|b| b.part.key));
            }
        }
        let mut number = vec![u32::MAX; m.base.mesh.vertices.len()];
        for (part, old) in of_part.iter().enumerate() {
            if let Some(at) = new.iter().position(|(p, _)| *p == part) {
                for body in new.swap_remove(at).1 {
                    let back = body.part.map.inverse();
                    let first = vertices.len() as u32;
                    vertices.extend(body.solid.mesh.vertices.iter().map(|p| back.apply(*p)));
                    let is_turned = body.part.map.turns_over();
                    facets.extend(body.solid.mesh.facets.iter().map(|f| {
                        let [a, b, c] = f.map(|v| v + first);
                        if is_turned { [a, c, b] } else { [a, b, c] }
                    }));
                    let own = body.part.own;
                    for face in &body.solid.faces {
                        held.push(Held::Whole(face.label.filter(|l| *l != own)));
                        inner.push(face.is_inner);
                    }
                    facets_of.push(body.solid.mesh.facets.len() as u32);
                    parts.push(body.part);
                }
                continue;
            }
            // Vertices keep their order, by which the divisions of neighbours agree.
            let mut used: Vec<u32> = old
                .iter()
                .flat_map(|f| m.base.mesh.facets[*f as usize])
                .collect();
            used.sort_unstable();
            used.dedup();
            for v in used {
                number[v as usize] = vertices.len() as u32;
                vertices.push(m.base.mesh.vertices[v as usize]);
            }
            for f in old {
                facets.push(m.base.mesh.facets[*f as usize].map(|v| number[v as usize]));
                held.push(m.labels.held(*f));
                inner.push(m.base.is_inner(*f));
            }
            facets_of.push(old.len() as u32);
            parts.push(m.parts[part].clone());
        }
        let mut origin = (*m.base.origin).clone();
        origin.colours = None;
        origin.pieces = Vec::new();
        let mesh = Mesh { vertices, facets };
        let base = OpenMesh::of_parts(mesh, &facets_of, Arc::new(origin)).with_inner(inner);
        let mut labels = Labels::plain(held.len());
        for (facet, held) in held.into_iter().enumerate() {
            if held != Held::Whole(None) {
                labels.put(facet as u32, held);
            }
        }
        let m = &mut self.models[model];
        m.base = Arc::new(base);
        m.parts = parts;
        m.labels = labels;
        let maps: Vec<Affine> = m.maps();
        m.open = m.mesh_placed(&maps);
    }
}
