//! Laws of histories: walked back, replayed, and untouched by what is refused.

use crate::jobs_of::{BOAT, PAINT, at, job_of, keep, place};
use crate::judge::cases;
use proptest::prelude::*;
use std::sync::Arc;
use varichrom_core::Problem;
use varichrom_core::job::{
    Axis, Edit, GiveEdit, History, Job, LengthUnit, ModelEdit, Models, PlaceEdit, Placing, Target,
};
use varichrom_core::model::{Mending, OpenMesh};
use varichrom_core::regions::Within;
use varichrom_demo::{box_mesh, stl};

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
        6 => Edit::Model(ModelEdit::SetUnits {
            model: None,
            unit: LengthUnit::ALL[usize::from(n % 6)],
        }),
        7 => Edit::Model(ModelEdit::Mend {
            model: "box".into(),
            mending: Mending {
                holes_mm: Some(f64::from(n)),
                turn: true,
                ..Mending::default()
            },
        }),
        8 => keep("boat", 1 + n % 5),
        9 => Edit::Place(PlaceEdit::SetApart {
            spacing_mm: f64::from(n % 20),
        }),
        10 => Edit::Place(PlaceEdit::SetCopies {
            across: u32::from(n % 4),
            along: 2,
            spacing_mm: 3.0,
        }),
        11 => Edit::Model(ModelEdit::ReviseModel {
            model: "box".into(),
            file: "new.stl".into(),
            content: "new".into(),
        }),
        12 => Edit::Give(GiveEdit::GivePatch {
            region: "base".into(),
            at: spot,
            crease_deg: 30.0,
            within: Within::Part,
            turn_deg: None,
        }),
        13 => Edit::Model(ModelEdit::CopyModel {
            model: if n.is_multiple_of(2) { "box" } else { "boat 2" }.into(),
            count: u32::from(n % 3),
            spacing_mm: f64::from(n % 7),
        }),
        _ => Edit::Model(ModelEdit::RemoveModel {
            model: if n.is_multiple_of(2) { "box" } else { "boat" }.into(),
        }),
    }
}

/// A shelf that also keeps a job as it stood.
struct Keeping<'a> {
    shelf: &'a crate::jobs_of::Shelf,
    kept: Option<(usize, Vec<u8>)>,
}

impl Models for Keeping<'_> {
    fn open(&self, content: &str) -> Result<Arc<OpenMesh>, Problem> {
        self.shelf.open(content)
    }

    fn bytes(&self, content: &str) -> Result<Arc<Vec<u8>>, Problem> {
        self.shelf.bytes(content)
    }

    fn kept(&self, at: usize) -> Option<(usize, Vec<u8>)> {
        self.kept.clone().filter(|(n, _)| *n <= at)
    }
}

/// Every edit of the demo's jobs: painting, parts, loads and plans.
#[test]
fn a_job_kept_in_bytes_comes_back_whole_and_goes_on_the_same() {
    for demo in varichrom_demo::demo_jobs() {
        let (shelf, start) = job_of(&[(demo.model, &demo.bytes)]);
        let mut edits = start.edits().to_vec();
        edits.extend(demo.edits);
        for half in [edits.len() / 2, edits.len()] {
            let history = History::replay(edits.clone(), half, &shelf).expect("sound edits");
            let bytes = history.job().kept(&shelf).expect("kept");
            let back = Job::from_kept(&bytes, &shelf).expect("read back");
            // Field by field: the bytes of what came back are the same.
            assert_eq!(back.kept(&shelf).expect("kept"), bytes);
            for (a, b) in history.job().models.iter().zip(&back.models) {
                assert_eq!(a.open.mesh, b.open.mesh);
                assert_eq!(a.open.parts, b.open.parts);
                assert_eq!(a.open.defects, b.open.defects);
                assert_eq!(a.labels, b.labels);
            }
            // From there on, the rest leads to the same job.
            let keeping = Keeping {
                shelf: &shelf,
                kept: Some((half, bytes)),
            };
            let on = History::replay(edits.clone(), edits.len(), &keeping).expect("sound edits");
            let all = History::replay(edits.clone(), edits.len(), &shelf).expect("sound edits");
            assert_eq!(
                on.job().kept(&shelf),
                all.job().kept(&shelf),
                "{}",
                demo.name
            );
        }
    }
}

#[test]
fn jumps_over_many_steps_lead_where_single_steps_do() {
    let (shelf, mut history) = job_of(&[("box", &stl(&box_mesh([0.0; 3], [10.0; 3]), "box"))]);
    let mut states = vec![history.job().kept(&shelf)];
    let grow = |history: &mut History, states: &mut Vec<Option<Vec<u8>>>, count: u8, seed: u8| {
        for n in 0..count {
            let kind = [9, 10, 5][usize::from(n % 3)];
            if history
                .apply(some_edit(kind, n.wrapping_mul(seed)), &shelf)
                .is_ok()
            {
                states.push(history.job().kept(&shelf));
            }
        }
    };
    grow(&mut history, &mut states, 200, 3);
    let jump = |history: &mut History, states: &[Option<Vec<u8>>], at: usize| {
        history.go_to(at + 1, &shelf).expect("there");
        assert!(history.job().kept(&shelf) == states[at], "after {at}");
    };
    let last = states.len() - 1;
    for at in [last, 3, last - 1, last - 90, last - 10, 40, 64, 65, last] {
        jump(&mut history, &states, at);
    }
    // A new edit in the middle: what lay ahead is no more, checkpoints of it neither.
    jump(&mut history, &states, 50);
    states.truncate(51);
    grow(&mut history, &mut states, 120, 7);
    let last = states.len() - 1;
    for at in [45, last, 60, last - 1, 64, 97, last] {
        jump(&mut history, &states, at);
    }
}

#[test]
fn bytes_of_another_version_are_as_good_as_none() {
    let (shelf, mut history) = job_of(&[("box", &stl(&box_mesh([0.0; 3], [10.0; 3]), "box"))]);
    for n in 0..3 {
        history.apply(some_edit(9, n), &shelf).expect("sound");
    }
    let bytes = history.job().kept(&shelf).expect("kept");
    for broken in [
        b"varichrom job 0 9.9.9\n".to_vec(),
        bytes[..bytes.len() / 2].to_vec(),
        Vec::new(),
    ] {
        assert!(Job::from_kept(&broken, &shelf).is_none());
        let keeping = Keeping {
            shelf: &shelf,
            kept: Some((2, broken)),
        };
        let again = History::replay(history.edits().to_vec(), 4, &keeping).expect("replayed");
        assert_eq!(again.job().kept(&shelf), history.job().kept(&shelf));
    }
}

proptest! {
    #![proptest_config(cases(60))]

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
        shelf.0.insert("new".into(), Arc::new(crate::shapes::open(&new)));
        let mut states = vec![history.job().clone()];
        for (kind, n) in steps {
            match history.apply(some_edit(kind, n), &shelf) {
                Ok(()) => {
                    let bytes = history.job().kept(&shelf).expect("kept");
                    let back = Job::from_kept(&bytes, &shelf).expect("read back");
                    prop_assert!(back.kept(&shelf).as_ref() == Some(&bytes), "kept otherwise");
                    states.push(history.job().clone());
                }
                Err(problem) => {
                    prop_assert!(!problem.mend.is_empty());
                    prop_assert!(Some(history.job()) == states.last());
                }
            }
        }
        let again = History::replay(history.edits().to_vec(), history.head(), &shelf).expect("replayed");
        prop_assert!(again.job() == history.job());
        for before in states.iter().rev().skip(1) {
            history.undo(&shelf).expect("undone");
            prop_assert!(history.job() == before);
        }
        for after in states.iter().skip(1) {
            history.redo(&shelf).expect("redone");
            prop_assert!(history.job() == after);
        }
    }
}
