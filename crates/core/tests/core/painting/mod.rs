//! Painted jobs, for the tests of the tools of Colour.

use crate::jobs_of::{Shelf, at, job_of};
use approx::assert_relative_eq;
use varichrom_core::carve::refined;
use varichrom_core::colour::Colour;
use varichrom_core::job::{Edit, GiveEdit, History, RegionEdit};
use varichrom_core::mesh::facet_area;
use varichrom_core::regions::{Reach, Sight, Stroke, Within};
use varichrom_demo::{box_mesh, stl};

pub(crate) const UP: [f64; 3] = [0.0, 0.0, 1.0];

pub(crate) fn add(key: &str) -> Edit {
    Edit::Region(RegionEdit::AddRegion {
        region: key.into(),
        name: key.into(),
        colour: Colour([200, 30, 30]),
        slot: None,
    })
}

/// A job of one model called `it`, with the regions `red` and `blue`.
pub(crate) fn job(bytes: &[u8]) -> (Shelf, History) {
    let (shelf, mut history) = job_of(&[("it", bytes)]);
    for key in ["red", "blue"] {
        history.apply(add(key), &shelf).expect("a new region");
    }
    (shelf, history)
}

pub(crate) fn after(bytes: &[u8], edits: &[Edit]) -> History {
    let (shelf, mut history) = job(bytes);
    for edit in edits {
        history
            .apply(edit.clone(), &shelf)
            .unwrap_or_else(|p| panic!("{p}: {edit:?}"));
    }
    history
}

pub(crate) fn refused(bytes: &[u8], edit: &Edit) -> (&'static str, String) {
    let (shelf, mut history) = job(bytes);
    let before = history.job().models[0].labels.clone();
    let problem = history.apply(edit.clone(), &shelf).expect_err("refused");
    assert_eq!(history.job().models[0].labels, before);
    assert!(!problem.mend.is_empty());
    ("", problem.code)
}

/// Area of a region, added up over the refined mesh.
pub(crate) fn area(history: &History, key: &str) -> f64 {
    let job = history.job();
    let region = job.region(key).expect("a region");
    let sum = |(index, m): (usize, &varichrom_core::job::JobModel)| -> f64 {
        let fine = refined(&m.open, &m.labels);
        (0..fine.labels.len())
            .filter(|f| job.region_of_label(index, fine.facet[*f], fine.labels[*f]) == region)
            .map(|f| facet_area(&fine.mesh.corners(f as u32)))
            .sum()
    };
    let found = job.models.iter().enumerate().map(sum).sum();
    // The job's own sum goes another way.
    let areas = job.region_areas();
    assert_relative_eq!(
        areas[region as usize],
        found,
        max_relative = 1e-9,
        epsilon = 1e-12
    );
    found
}

pub(crate) fn patch(region: &str, point: [f64; 3], normal: [f64; 3], crease_deg: f64) -> Edit {
    Edit::Give(GiveEdit::GivePatch {
        region: region.into(),
        at: at("it", point, normal),
        crease_deg,
        within: Within::Part,
        turn_deg: None,
    })
}

pub(crate) fn relief(point: [f64; 3], all: bool) -> Edit {
    Edit::Give(GiveEdit::GiveRelief {
        region: "red".into(),
        at: at("it", point, UP),
        crease_deg: 30.0,
        all,
        through: false,
    })
}

pub(crate) fn stroke(reach: Reach, path: &[[f64; 3]], radius_mm: f64, eye: [f64; 3]) -> Edit {
    Edit::Give(GiveEdit::GiveStroke {
        region: "red".into(),
        reach,
        stroke: Stroke {
            model: "it".into(),
            path: path.to_vec(),
            radius_mm,
            eye,
        },
    })
}

pub(crate) fn band(low_mm: f64, high_mm: f64) -> Edit {
    Edit::band("red", [low_mm, high_mm], None, None)
}

/// A view straight down from a height.
pub(crate) fn from_above(eye: [f64; 3]) -> Sight {
    Sight {
        eye,
        right: [1.0, 0.0, 0.0],
        up: [0.0, 1.0, 0.0],
    }
}

pub(crate) fn lasso(eye: [f64; 3], corners: &[[f64; 2]], depth: f64, through: bool) -> Edit {
    Edit::Give(GiveEdit::GiveLasso {
        region: "red".into(),
        outline: corners.iter().map(|c| c.map(|v| v / depth)).collect(),
        sight: from_above(eye),
        through,
    })
}

pub(crate) fn cube(side: f64) -> Vec<u8> {
    stl(&box_mesh([0.0; 3], [side; 3]), "cube")
}

/// A plate of n × n squares, 1 mm thick.
pub(crate) fn subdivided_plate(side: f64, z: f64, n: usize) -> varichrom_core::mesh::Mesh {
    let mut mesh = varichrom_core::mesh::Mesh {
        vertices: vec![],
        facets: vec![],
    };
    let m = n + 1;
    for level in [z, z + 1.0] {
        for y in 0..m {
            for x in 0..m {
                let at = |i: usize| side * (i as f64 / n as f64 - 0.5);
                mesh.vertices.push([at(x), at(y), level]);
            }
        }
    }
    let id = |x: usize, y: usize, level: usize| (level * m * m + y * m + x) as u32;
    for y in 0..n {
        for x in 0..n {
            for (level, turned) in [(0, true), (1, false)] {
                let q = [
                    id(x, y, level),
                    id(x + 1, y, level),
                    id(x + 1, y + 1, level),
                    id(x, y + 1, level),
                ];
                let (a, b) = ([q[0], q[1], q[2]], [q[0], q[2], q[3]]);
                for f in [a, b] {
                    mesh.facets
                        .push(if turned { [f[0], f[2], f[1]] } else { f });
                }
            }
        }
    }
    for i in 0..n {
        let sides = [
            [id(i, 0, 0), id(i + 1, 0, 0), id(i + 1, 0, 1), id(i, 0, 1)],
            [id(n, i, 0), id(n, i + 1, 0), id(n, i + 1, 1), id(n, i, 1)],
            [id(i + 1, n, 0), id(i, n, 0), id(i, n, 1), id(i + 1, n, 1)],
            [id(0, i + 1, 0), id(0, i, 0), id(0, i, 1), id(0, i + 1, 1)],
        ];
        for q in sides {
            mesh.facets.push([q[0], q[1], q[2]]);
            mesh.facets.push([q[0], q[2], q[3]]);
        }
    }
    mesh
}
