//! Placing by edits: where parts go, what stays, and what is refused; pieces on the bed.

use crate::jobs_of::{EXACT, at, brick, job_of, place};
use crate::judge::cases;
use approx::assert_relative_eq;
use proptest::prelude::*;
use rstest::rstest;
use varichrom_core::advice::checked_plan;
use varichrom_core::colour::Colour;
use varichrom_core::job::{
    Axis, Edit, GiveEdit, History, LengthUnit, ModelEdit, PlaceEdit, Placing, RegionEdit, Target,
};
use varichrom_core::layers::{Settings, label, survey};
use varichrom_core::regions::Within;
use varichrom_core::rules::Copies;
use varichrom_demo::{box_mesh, float_in_ring, rack, signal_tiles, stl, together};

#[rstest]
#[case(Placing::Move { by_mm: [1.0, 2.0, 3.0] }, [11.0, 22.0, 8.0], [2.0, 4.0, 6.0])]
#[case(Placing::Turn { axis: Axis::Z, degrees: 90.0 }, [9.0, 21.0, 5.0], [4.0, 2.0, 6.0])]
#[case(Placing::Turn { axis: Axis::X, degrees: 90.0 }, [10.0, 19.0, 5.0], [2.0, 6.0, 4.0])]
#[case(Placing::Stretch { factors: [2.0, 1.0, 0.5] }, [9.0, 20.0, 5.0], [4.0, 4.0, 3.0])]
#[case(Placing::Size { axis: Axis::Y, mm: 8.0, alone: false }, [9.0, 18.0, 5.0], [4.0, 8.0, 12.0])]
#[case(Placing::Size { axis: Axis::Z, mm: 3.0, alone: true }, [10.0, 20.0, 5.0], [2.0, 4.0, 3.0])]
#[case(Placing::Mirror { axis: Axis::X }, [10.0, 20.0, 5.0], [2.0, 4.0, 6.0])]
#[case(Placing::FaceDown { at: at("brick", [12.0, 22.0, 8.0], [1.0, 0.0, 0.0]) }, [8.0, 20.0, 5.0], [6.0, 4.0, 2.0])]
#[case(Placing::FaceUp { at: at("brick", [11.0, 20.0, 8.0], [0.0, -1.0, 0.0]) }, [10.0, 19.0, 5.0], [2.0, 6.0, 4.0])]
#[case(Placing::Centre, [-1.0, -2.0, 5.0], [2.0, 4.0, 6.0])]
#[case(Placing::Drop, [10.0, 20.0, 0.0], [2.0, 4.0, 6.0])]
fn placing_moves_the_box_as_by_hand(
    #[case] placing: Placing,
    #[case] low: [f64; 3],
    #[case] size: [f64; 3],
) {
    let (shelf, mut history) = job_of(&[("brick", &brick())]);
    history
        .apply(place(Target::Everything, placing), &shelf)
        .expect("placed");
    let open = history.job().models[0].open.clone();
    let bounds = open.mesh.bounds();
    for i in 0..3 {
        assert_relative_eq!(bounds.min[i], low[i], epsilon = EXACT);
        assert_relative_eq!(bounds.size()[i], size[i], epsilon = EXACT);
    }
    // Still a closed box that faces outward, whatever was done to it.
    assert!(open.is_closed() && open.defects.is_empty());
    assert_relative_eq!(
        open.volume_mm3(),
        size.iter().product::<f64>(),
        max_relative = EXACT
    );
    history.undo(&shelf).expect("taken back");
    assert_eq!(
        history.job().models[0].open.mesh.bounds().min,
        [10.0, 20.0, 5.0]
    );
    history.redo(&shelf).expect("again");
    let home = place(Target::Everything, Placing::Home);
    history.apply(home, &shelf).expect("home");
    assert_eq!(
        history.job().models[0].open.mesh.bounds().min,
        [10.0, 20.0, 5.0]
    );
}

#[test]
fn parts_move_apart_and_come_home() {
    let touching = together(&[
        box_mesh([0.0; 3], [10.0; 3]),
        box_mesh([10.0, 0.0, 0.0], [20.0, 10.0, 10.0]),
    ]);
    let (shelf, mut history) = job_of(&[("pair", &stl(&touching, "pair"))]);
    assert_eq!(history.job().models[0].parts.len(), 2);
    let second = Target::Part {
        at: at("pair", [20.0, 5.0, 5.0], [1.0, 0.0, 0.0]),
    };
    let raise = Placing::Move {
        by_mm: [0.0, 0.0, 2.5],
    };
    history.apply(place(second, raise), &shelf).expect("raised");
    let boxes = |h: &History| -> Vec<[f64; 3]> {
        let parts = &h.job().models[0].open.parts;
        parts.iter().map(|p| p.measures.bounds.min).collect()
    };
    assert_eq!(boxes(&history), [[0.0; 3], [10.0, 0.0, 2.5]]);
    let open = history.job().models[0].open.clone();
    assert!(open.is_closed());
    assert_relative_eq!(open.volume_mm3(), 2000.0, max_relative = EXACT);
    history
        .apply(place(Target::Everything, Placing::Home), &shelf)
        .expect("home");
    assert_eq!(boxes(&history), [[0.0; 3], [10.0, 0.0, 0.0]]);
}

#[test]
fn centring_on_another_part_and_an_enclosed_part_that_leaves() {
    let (shelf, mut history) = job_of(&[("float", &stl(&float_in_ring(), "float"))]);
    let ring = history.job().models[0].open.clone();
    let outer = (0..2).find(|p| !ring.parts[*p].encloses.is_empty());
    // The float sits in the ring's hole, not in its plastic: neither encloses the other.
    assert_eq!(outer, None);
    let spot = |part: usize, h: &History| {
        let open = &h.job().models[0].open;
        let [a, b, c] = open.mesh.corners(open.parts[part].first_facet);
        let normal = varichrom_core::mesh::facet_normal(&[a, b, c]).expect("area");
        Target::Part {
            at: at(
                "float",
                [0, 1, 2].map(|i| (a[i] + b[i] + c[i]) / 3.0),
                normal,
            ),
        }
    };
    let away = Placing::Move {
        by_mm: [70.0, 0.0, 0.0],
    };
    let first = spot(0, &history);
    history.apply(place(first, away), &shelf).expect("moved");
    let (one, other) = (spot(0, &history), spot(1, &history));
    history
        .apply(place(one, Placing::CentreOn { other }), &shelf)
        .expect("centred");
    let parts = &history.job().models[0].open.parts;
    let (a, b) = (
        parts[0].measures.bounds.centre(),
        parts[1].measures.bounds.centre(),
    );
    assert_relative_eq!(a[0], b[0], epsilon = 1e-9);
    assert_relative_eq!(a[1], b[1], epsilon = 1e-9);

    let nested = together(&[box_mesh([0.0; 3], [20.0; 3]), box_mesh([2.0; 3], [18.0; 3])]);
    let (shelf, mut history) = job_of(&[("nested", &stl(&nested, "nested"))]);
    assert_eq!(history.job().models[0].open.parts[0].encloses, [1]);
    let inner = Target::Part {
        at: at("nested", [18.0, 10.0, 10.0], [1.0, 0.0, 0.0]),
    };
    let away = Placing::Move {
        by_mm: [30.0, 0.0, 0.0],
    };
    history.apply(place(inner, away), &shelf).expect("moved");
    assert!(history.job().models[0].open.parts[0].encloses.is_empty());
}

#[test]
fn units_scale_about_the_shared_origin() {
    let (shelf, mut history) = job_of(&[("a", &brick()), ("b", &brick())]);
    let edit = Edit::Model(ModelEdit::SetUnits {
        model: None,
        unit: LengthUnit::Inch,
    });
    history.apply(edit, &shelf).expect("inches");
    for model in &history.job().models {
        assert_relative_eq!(model.open.mesh.bounds().min[0], 254.0, max_relative = EXACT);
    }
    let back = Edit::Model(ModelEdit::SetUnits {
        model: Some("a".into()),
        unit: LengthUnit::Millimetre,
    });
    history.apply(back, &shelf).expect("millimetres");
    assert_relative_eq!(
        history.job().models[0].open.mesh.bounds().min[0],
        10.0,
        max_relative = EXACT
    );
}

#[test]
fn models_stand_side_by_side_without_touching() {
    let wide = stl(&box_mesh([0.0; 3], [30.0, 10.0, 5.0]), "wide");
    let (shelf, mut history) = job_of(&[("a", &brick()), ("b", &wide), ("c", &brick())]);
    history
        .apply(Edit::Place(PlaceEdit::SetApart { spacing_mm: 4.0 }), &shelf)
        .expect("apart");
    let boxes: Vec<_> = history
        .job()
        .models
        .iter()
        .map(|m| m.open.mesh.bounds())
        .collect();
    for pair in boxes.windows(2) {
        assert_relative_eq!(pair[1].min[0] - pair[0].max[0], 4.0, epsilon = EXACT);
    }
    assert_relative_eq!(boxes[0].min[0], -boxes[2].max[0], epsilon = EXACT);
    assert!(
        boxes
            .iter()
            .all(|b| b.min[2].abs() < EXACT && b.centre()[1].abs() < EXACT)
    );
}

#[test]
fn many_models_stand_in_rows_within_the_bed() {
    let tile = stl(&box_mesh([0.0; 3], [60.0, 30.0, 5.0]), "tile");
    let names: Vec<String> = (0..8).map(|i| format!("tile {i}")).collect();
    let files: Vec<(&str, &[u8])> = names.iter().map(|n| (n.as_str(), &tile[..])).collect();
    let (shelf, mut history) = job_of(&files);
    history
        .apply(Edit::Place(PlaceEdit::SetApart { spacing_mm: 5.0 }), &shelf)
        .expect("apart");
    // Three of 60 mm and two gaps take 190 of 220 mm; eight take three rows of 30 mm and two gaps.
    let size = history.job().bounds().size();
    assert_relative_eq!(size[0], 190.0, epsilon = EXACT);
    assert_relative_eq!(size[1], 100.0, epsilon = EXACT);
    let boxes: Vec<_> = history
        .job()
        .models
        .iter()
        .map(|m| m.open.mesh.bounds())
        .collect();
    for (i, a) in boxes.iter().enumerate() {
        for b in &boxes[i + 1..] {
            assert!((0..2).any(|k| a.max[k] + 4.9 < b.min[k] || b.max[k] + 4.9 < a.min[k]));
        }
    }
}

#[rstest]
#[case(Placing::Size { axis: Axis::X, mm: 0.0, alone: false }, "placing-out-of-range")]
#[case(Placing::Size { axis: Axis::X, mm: f64::NAN, alone: false }, "placing-out-of-range")]
#[case(Placing::Stretch { factors: [1.0, -1.0, 1.0] }, "placing-out-of-range")]
#[case(Placing::Move { by_mm: [f64::INFINITY, 0.0, 0.0] }, "placing-out-of-range")]
#[case(Placing::Move { by_mm: [99_999.0, 0.0, 0.0] }, "placing-too-far")]
#[case(Placing::FaceDown { at: at("brick", [90.0; 3], [0.0, 0.0, 1.0]) }, "place-off-the-mesh")]
#[case(Placing::CentreOn { other: Target::Model { model: "nobody".into() } }, "model-unknown")]
fn placing_that_cannot_be_done_changes_nothing(#[case] placing: Placing, #[case] code: &str) {
    let (shelf, mut history) = job_of(&[("brick", &brick())]);
    let before = history.job().models[0].open.mesh.clone();
    let refused = history.apply(place(Target::Everything, placing), &shelf);
    assert_eq!(refused.err().map(|p| p.code).as_deref(), Some(code));
    assert_eq!(history.job().models[0].open.mesh, before);
    assert_eq!(history.head(), 1);
}

proptest! {
    #![proptest_config(cases(64))]

    /// Turning and mirroring keep volume and area and every facet's number; scaling grows them as it must.
    #[test]
    fn placing_keeps_what_geometry_says(
        degrees in -720.0f64..720.0, axis in 0usize..3, mirror in any::<bool>(), factor in 0.2f64..5.0,
    ) {
        let axis = [Axis::X, Axis::Y, Axis::Z][axis];
        let (shelf, mut history) = job_of(&[("tiles", &stl(&signal_tiles(), "tiles"))]);
        let before = history.job().models[0].open.clone();
        let everything = || Target::Everything;
        history.apply(place(everything(), Placing::Turn { axis, degrees }), &shelf).expect("turned");
        if mirror {
            history.apply(place(everything(), Placing::Mirror { axis }), &shelf).expect("mirrored");
        }
        history.apply(place(everything(), Placing::Stretch { factors: [factor; 3] }), &shelf).expect("scaled");
        let after = history.job().models[0].open.clone();
        prop_assert!(after.is_closed() && after.parts.len() == before.parts.len());
        prop_assert!((after.volume_mm3() / before.volume_mm3() / factor.powi(3) - 1.0).abs() < 1e-9);
        prop_assert!((after.area_mm2() / before.area_mm2() / factor.powi(2) - 1.0).abs() < 1e-9);
        prop_assert_eq!(&*after.part_of, &*before.part_of);
    }
}

#[test]
fn copies_multiply_plastic_and_not_swaps() {
    let (shelf, mut history) = job_of(&[("tiles", &stl(&signal_tiles(), "tiles"))]);
    let red = Edit::Region(RegionEdit::AddRegion {
        region: "red".into(),
        name: "Red".into(),
        colour: Colour([200, 0, 0]),
        slot: Some(2),
    });
    history.apply(red, &shelf).expect("added");
    let open = history.job().models[0].open.clone();
    let (tip, _) = (0..open.mesh.facets.len() as u32)
        .map(|f| {
            (
                f,
                open.mesh
                    .corners(f)
                    .iter()
                    .map(|c| c[2])
                    .fold(f64::INFINITY, f64::min),
            )
        })
        .max_by(|a, b| a.1.total_cmp(&b.1))
        .expect("facets");
    let spot = open
        .mesh
        .corners(tip)
        .iter()
        .fold([0.0; 3], |s, c| [0, 1, 2].map(|i| s[i] + c[i] / 3.0));
    let give = Edit::Give(GiveEdit::GivePatch {
        region: "red".into(),
        at: at("tiles", spot, [0.0, 0.0, 1.0]),
        crease_deg: 30.0,
        within: Within::Part,
        turn_deg: None,
    });
    history.apply(give, &shelf).expect("given");
    let plan_of = |h: &History| {
        let job = h.job();
        let settings = Settings::from(&job.printer);
        let found =
            survey(job.bodies(), settings, job.deepest_soak_mm(), &|_| true).expect("not stopped");
        checked_plan(job, &rack(), &label(&found, &job.claims())).expect("few slots")
    };
    let one = plan_of(&history);
    history
        .apply(
            Edit::Place(PlaceEdit::SetCopies {
                across: 3,
                along: 2,
                spacing_mm: 5.0,
            }),
            &shelf,
        )
        .expect("copied");
    let six = plan_of(&history);
    assert!(one.bill.swaps > 0);
    assert_eq!(six.bill.swaps, one.bill.swaps);
    assert_relative_eq!(
        six.bill.model_g,
        6.0 * one.bill.model_g,
        max_relative = 1e-9
    );
    assert_relative_eq!(six.bill.purge_g, one.bill.purge_g, max_relative = 1e-9);
    for (a, b) in one.layers.iter().zip(&six.layers) {
        for (slot, area) in &a.areas_mm2 {
            assert_relative_eq!(b.areas_mm2[slot], 6.0 * area, max_relative = 1e-9);
        }
    }
}

#[rstest]
#[case([20.0, 30.0, 5.0], 5.0, [9, 6])]
#[case([220.0, 220.0, 5.0], 0.0, [1, 1])]
#[case([110.0, 109.0, 5.0], 0.0, [2, 2])]
#[case([400.0, 10.0, 5.0], 5.0, [1, 15])]
fn as_many_copies_as_the_bed_holds(
    #[case] size: [f64; 3],
    #[case] gap: f64,
    #[case] wanted: [u32; 2],
) {
    let most = Copies::most(size, [220.0, 220.0, 240.0], gap);
    assert_eq!(most, wanted);
    for i in 0..2 {
        let n = f64::from(most[i]);
        assert!(n == 1.0 || n * size[i] + (n - 1.0) * gap <= 220.0 + 1e-9);
    }
}
