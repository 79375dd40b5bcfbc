//! Laws of histories: walked back, replayed, and untouched by what is refused.

mod jobs_of;
mod shapes;

use jobs_of::{BOAT, PAINT, at, job_of, keep, place};
use proptest::prelude::*;
use std::sync::Arc;
use varichrom_core::job::{Axis, Edit, History, LengthUnit, Placing, Target};
use varichrom_core::mesh::Mending;
use varichrom_core::regions::Within;
use varichrom_demo::{box_mesh, stl};

/// What a job comes to, for comparing two of them.
fn state(h: &History) -> String {
    let job = h.job();
    let models: Vec<_> = job
        .models
        .iter()
        .map(|m| {
            let parts: Vec<_> = m.parts.iter().map(|p| (&p.name, p.own, p.map.0)).collect();
            (
                &m.name,
                &m.file,
                m.unit,
                parts,
                &m.labels,
                &m.open.mesh.vertices,
                &m.open.mesh.facets,
            )
        })
        .collect();
    let regions: Vec<_> = job
        .live_regions()
        .map(|(n, r)| (n, &r.key, &r.name, r.colour, r.slot))
        .collect();
    format!(
        "{} {models:?} {regions:?} {:?} {:?} {:?}",
        job.name, job.slots, job.copies, job.lost
    )
}

/// One of the edits of Intake, by number; many of them are refused, which is part of the test.
fn some_edit(kind: u8, n: u8) -> Edit {
    let everything = Target::Everything;
    let boat = || Target::Model {
        model: "boat".into(),
    };
    let spot = at("boat", [2.0, 2.0, 4.0], [0.0, 0.0, 1.0]);
    match kind % 14 {
        0 => place(
            everything,
            Placing::Move {
                by_mm: [f64::from(n), 0.0, 1.0],
            },
        ),
        1 => place(
            boat(),
            Placing::Turn {
                axis: Axis::X,
                degrees: 15.0 * f64::from(n % 24),
            },
        ),
        2 => place(
            everything,
            Placing::Mirror {
                axis: [Axis::X, Axis::Y, Axis::Z][usize::from(n % 3)],
            },
        ),
        3 => place(
            boat(),
            Placing::Size {
                axis: Axis::Z,
                mm: f64::from(n),
                alone: n.is_multiple_of(2),
            },
        ),
        4 => place(boat(), Placing::FaceDown { at: spot }),
        5 => place(everything, Placing::Home),
        6 => Edit::SetUnits {
            model: None,
            unit: LengthUnit::ALL[usize::from(n % 6)],
        },
        7 => Edit::Mend {
            model: "box".into(),
            mending: Mending {
                holes_mm: Some(f64::from(n)),
                turn: true,
                ..Mending::default()
            },
        },
        8 => keep("boat", 1 + n % 5),
        9 => Edit::SetApart {
            spacing_mm: f64::from(n % 20),
        },
        10 => Edit::SetCopies {
            across: u32::from(n % 4),
            along: 2,
            spacing_mm: 3.0,
        },
        11 => Edit::ReviseModel {
            model: "box".into(),
            file: "new.stl".into(),
            content: "new".into(),
        },
        12 => Edit::GivePatch {
            region: "base".into(),
            at: spot,
            crease_deg: 30.0,
            within: Within::Part,
            turn_deg: None,
        },
        _ => Edit::RemoveModel {
            model: if n.is_multiple_of(2) { "box" } else { "boat" }.into(),
        },
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(60))]

    /// Whatever is edited: a refusal changes nothing, undo and redo lead where they came from, and the stored edits make
    /// the same job again.
    #[test]
    fn every_history_can_be_walked_back_and_replayed(
        steps in prop::collection::vec((any::<u8>(), any::<u8>()), 1..14),
    ) {
        let mut holed = box_mesh([20.0, 0.0, 0.0], [30.0, 10.0, 10.0]);
        holed.facets.pop();
        holed.facets[3].swap(0, 1);
        let files = [("paint.mtl".to_string(), PAINT.as_bytes().to_vec())];
        let boat = varichrom_core::formats::bundle(("boat.obj", BOAT.into()), &files).expect("bundled");
        let (mut shelf, mut history) = job_of(&[("boat", &boat), ("box", &stl(&holed, "box"))]);
        let new = box_mesh([20.0, 0.0, 0.0], [30.0, 12.0, 10.0]);
        shelf.0.insert("new".into(), Arc::new(shapes::open(&new)));
        let mut states = vec![state(&history)];
        for (kind, n) in steps {
            match history.apply(some_edit(kind, n), &shelf) {
                Ok(()) => states.push(state(&history)),
                Err(problem) => {
                    prop_assert!(!problem.mend.is_empty());
                    prop_assert_eq!(Some(&state(&history)), states.last());
                }
            }
        }
        let again = History::replay(history.edits().to_vec(), history.head(), &shelf).expect("replayed");
        prop_assert_eq!(&state(&again), &state(&history));
        for before in states.iter().rev().skip(1) {
            history.undo(&shelf).expect("undone");
            prop_assert_eq!(&state(&history), before);
        }
        for after in states.iter().skip(1) {
            history.redo(&shelf).expect("redone");
            prop_assert_eq!(&state(&history), after);
        }
    }
}
