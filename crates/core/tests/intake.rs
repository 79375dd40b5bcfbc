//! Placing, mending, colours that files bring, sizes in doubt, copies, and models replaced by new versions.

mod shapes;

use approx::assert_relative_eq;
use proptest::prelude::*;
use rstest::rstest;
use std::collections::HashMap;
use std::sync::Arc;
use varichrom_core::Problem;
use varichrom_core::colour::Colour;
use varichrom_core::intake::{RouteKind, size_doubt, split};
use varichrom_core::job::{Axis, Copies, Edit, History, LengthUnit, Models, Placing, Target};
use varichrom_core::layers::{Settings, label, survey};
use varichrom_core::machine::Printer;
use varichrom_core::mesh::{DefectKind, Mending, Mesh, OpenMesh};
use varichrom_core::plan::plan;
use varichrom_core::regions::Place;
use varichrom_demo::{box_mesh, float_in_ring, obj, pier_light, rack, signal_tiles, stl, together};

const EXACT: f64 = 1e-9;

#[derive(Default)]
struct Shelf(HashMap<String, Arc<OpenMesh>>);

impl Models for Shelf {
    fn open(&self, content: &str) -> Result<Arc<OpenMesh>, Problem> {
        let missing = || Problem::new("content-unknown", content, "", "");
        self.0.get(content).cloned().ok_or_else(missing)
    }
}

/// A shelf of files by name, and a job that has opened them in order.
fn job_of(files: &[(&str, &[u8])]) -> (Shelf, History) {
    let mut shelf = Shelf::default();
    let mut edits = Vec::new();
    for (name, bytes) in files {
        let open = OpenMesh::from_bytes(bytes).unwrap_or_else(|p| panic!("{p}"));
        shelf.0.insert((*name).into(), Arc::new(open));
        edits.push(open_model(name));
    }
    let head = edits.len();
    let history = History::replay(edits, head, &shelf).expect("sound files");
    (shelf, history)
}

fn open_model(name: &str) -> Edit {
    Edit::OpenModel {
        model: name.into(),
        file: format!("{name}.stl"),
        content: name.into(),
    }
}

fn place(target: Target, placing: Placing) -> Edit {
    Edit::Place { target, placing }
}

fn at(model: &str, point: [f64; 3], normal: [f64; 3]) -> Place {
    Place {
        model: model.into(),
        point,
        normal,
    }
}

fn brick() -> Vec<u8> {
    stl(&box_mesh([10.0, 20.0, 5.0], [12.0, 24.0, 11.0]), "brick")
}

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
    let edit = Edit::SetUnits {
        model: None,
        unit: LengthUnit::Inch,
    };
    history.apply(edit, &shelf).expect("inches");
    for model in &history.job().models {
        assert_relative_eq!(model.open.mesh.bounds().min[0], 254.0, max_relative = EXACT);
    }
    let back = Edit::SetUnits {
        model: Some("a".into()),
        unit: LengthUnit::Millimetre,
    };
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
        .apply(Edit::SetApart { spacing_mm: 4.0 }, &shelf)
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
        .apply(Edit::SetApart { spacing_mm: 5.0 }, &shelf)
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
    #![proptest_config(ProptestConfig::with_cases(64))]

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

// Mending.

fn mended(mesh: &Mesh, mending: Mending) -> (OpenMesh, varichrom_core::mesh::MendReport) {
    let open = shapes::open(mesh);
    let mended = open.mended(&mending).expect("mended");
    assert_eq!(mended.from.len(), mended.open.mesh.facets.len());
    (mended.open, mended.report)
}

fn count(open: &OpenMesh, kind: DefectKind) -> u32 {
    open.defects
        .iter()
        .find(|d| d.kind == kind)
        .map_or(0, |d| d.count)
}

#[test]
fn cracks_are_welded_within_the_tolerance_only() {
    // A box whose top is 0.02 mm off.
    let mut cracked = box_mesh([0.0; 3], [10.0; 3]);
    let top: Vec<usize> = (0..cracked.facets.len())
        .filter(|f| cracked.corners(*f as u32).iter().all(|c| c[2] == 10.0))
        .collect();
    for f in top {
        cracked.facets[f] = cracked.facets[f].map(|v| {
            let [x, y, z] = cracked.vertices[v as usize];
            cracked.vertices.push([x, y, z + 0.02]);
            cracked.vertices.len() as u32 - 1
        });
    }
    let weld = |mm| Mending {
        weld_mm: Some(mm),
        ..Mending::default()
    };
    let (open, report) = mended(&cracked, weld(0.01));
    assert!(report.is_nothing() && !open.is_closed());
    let (open, report) = mended(&cracked, weld(0.05));
    assert_eq!(report.welded, 4);
    assert!(open.is_closed() && open.defects.is_empty() && open.mesh.facets.len() == 12);
}

/// A box with one facet of its top split at the middle of a side that the facet across does not share.
fn with_needle() -> Mesh {
    let mut mesh = box_mesh([0.0; 3], [10.0; 3]);
    let f = (0..12)
        .find(|f| mesh.corners(*f).iter().all(|c| c[2] == 10.0))
        .expect("a top") as usize;
    let [a, b, c] = mesh.facets[f];
    let (p, q) = (mesh.vertices[a as usize], mesh.vertices[b as usize]);
    let middle = mesh.vertices.len() as u32;
    mesh.vertices.push([0, 1, 2].map(|i| 0.5 * (p[i] + q[i])));
    mesh.facets[f] = [a, middle, c];
    mesh.facets.push([middle, b, c]);
    // The gap to the facet across is filled by a needle without area.
    mesh.facets.push([a, b, middle]);
    mesh
}

#[test]
fn needles_go_without_opening_a_gap() {
    let needle = with_needle();
    let before = shapes::open(&needle);
    assert!(before.is_closed());
    assert_eq!(count(&before, DefectKind::DegenerateFacet), 1);
    let (open, report) = mended(
        &needle,
        Mending {
            degenerate: true,
            ..Mending::default()
        },
    );
    assert_eq!(report.degenerate, 1);
    assert!(
        open.is_closed() && open.defects.is_empty(),
        "{:?}",
        open.defects
    );
    assert_relative_eq!(open.volume_mm3(), 1000.0, max_relative = EXACT);
}

#[test]
fn repeated_facets_go_and_two_bodies_that_share_a_face_stay() {
    let mut doubled = box_mesh([0.0; 3], [10.0; 3]);
    doubled.facets.push(doubled.facets[3]);
    let [a, b, c] = doubled.facets[5];
    doubled.facets.push([b, c, a]);
    let (open, report) = mended(
        &doubled,
        Mending {
            duplicates: true,
            ..Mending::default()
        },
    );
    assert_eq!(report.duplicates, 2);
    assert!(
        open.is_closed() && open.defects.is_empty(),
        "{:?}",
        open.defects
    );

    let sharing = together(&[
        box_mesh([0.0; 3], [10.0; 3]),
        box_mesh([10.0, 0.0, 0.0], [20.0, 10.0, 10.0]),
    ]);
    let (open, report) = mended(
        &sharing,
        Mending {
            duplicates: true,
            ..Mending::default()
        },
    );
    assert_eq!((report.duplicates, open.parts.len()), (0, 2));
}

#[rstest]
#[case::one(&[4])]
#[case::half(&[0, 2, 4, 6, 8, 10])]
#[case::most(&[0, 1, 2, 3, 4, 5, 6, 7])]
#[case::all(&[0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11])]
fn turned_facets_face_outward_again(#[case] over: &[usize]) {
    let mut mesh = box_mesh([0.0; 3], [10.0; 3]);
    for f in over {
        mesh.facets[*f].swap(1, 2);
    }
    let (open, report) = mended(
        &mesh,
        Mending {
            turn: true,
            ..Mending::default()
        },
    );
    assert_eq!(report.turned as usize, over.len());
    assert!(open.is_closed() && open.defects.is_empty());
    assert_relative_eq!(open.volume_mm3(), 1000.0, max_relative = EXACT);
}

#[test]
fn a_cavity_stays_a_cavity_when_facets_are_turned() {
    let mut inner = box_mesh([2.0; 3], [8.0; 3]);
    for f in &mut inner.facets {
        f.swap(1, 2);
    }
    let mut outer = box_mesh([0.0; 3], [10.0; 3]);
    outer.facets[7].swap(0, 1);
    let (open, report) = mended(
        &together(&[outer, inner]),
        Mending {
            turn: true,
            ..Mending::default()
        },
    );
    assert_eq!(report.turned, 1);
    assert_relative_eq!(open.volume_mm3(), 1000.0 - 216.0, max_relative = EXACT);
}

#[test]
fn small_holes_close_and_large_ones_stay() {
    let mut sphere = varichrom_demo::subdivided_sphere(10.0, 4);
    let whole = sphere.facets.len();
    // One facet out at one end; all within 4 mm of the other end.
    let near = |m: &Mesh, f: usize, z: f64, r: f64| {
        m.corners(f as u32).iter().all(|c| (c[2] - z).abs() < r)
    };
    let copy = sphere.clone();
    let mut index = 0;
    sphere.facets.retain(|_| {
        index += 1;
        index != 40 && !near(&copy, index - 1, -10.0, 1.0)
    });
    let gone = whole - sphere.facets.len();
    assert!(gone > 20);
    let before = shapes::open(&sphere);
    assert_eq!(
        before.defect_places(DefectKind::OpenEdge).len(),
        2,
        "two holes"
    );
    let holes = |mm| Mending {
        holes_mm: Some(mm),
        ..Mending::default()
    };
    let (open, report) = mended(&sphere, holes(3.0));
    assert_eq!((report.holes, report.added), (1, 1));
    assert!(!open.is_closed());
    let (open, report) = mended(&sphere, holes(30.0));
    assert_eq!(report.holes, 2);
    assert!(
        open.is_closed() && open.defects.is_empty(),
        "{:?}",
        open.defects
    );
    // A flat lid takes off a cap at most: π h² (3 r − h) / 3 with h = 1.3 mm (spherical cap, textbook).
    let cap = std::f64::consts::PI * 1.3f64.powi(2) * (30.0 - 1.3) / 3.0;
    let full = OpenMesh::volume_mm3(&shapes::open(&copy));
    assert!(open.volume_mm3() < full && open.volume_mm3() > full - cap);
}

#[test]
fn holes_that_meet_at_corners_close_one_by_one() {
    // Of every four facets of the subdivision the fourth is the middle one: without the other three it hangs by its
    // corners alone, between three holes of one facet each.
    let mut sphere = varichrom_demo::subdivided_sphere(15.0, 4);
    let whole = shapes::open(&sphere).volume_mm3();
    sphere.facets.drain(100..103);
    let (open, report) = mended(
        &sphere,
        Mending {
            holes_mm: Some(20.0),
            ..Mending::default()
        },
    );
    assert_eq!((report.holes, report.added), (3, 3));
    assert!(
        open.is_closed() && open.defects.is_empty(),
        "{:?}",
        open.defects
    );
    assert_relative_eq!(open.volume_mm3(), whole, max_relative = 1e-6);
}

#[test]
fn specks_are_dropped_but_never_the_largest_part() {
    let dusty = together(&[
        box_mesh([0.0; 3], [10.0; 3]),
        box_mesh([20.0; 3], [20.1; 3]),
        box_mesh([30.0; 3], [30.2; 3]),
    ]);
    let specks = |mm| Mending {
        specks_mm: Some(mm),
        ..Mending::default()
    };
    let (open, report) = mended(&dusty, specks(0.2));
    assert_eq!((report.specks, open.parts.len()), (1, 2));
    let (open, _) = mended(&dusty, specks(500.0));
    assert_eq!(open.parts.len(), 1);
    assert_relative_eq!(open.volume_mm3(), 1000.0, max_relative = EXACT);
}

#[test]
fn mending_is_an_edit_that_keeps_colours_and_can_be_undone() {
    let mut holed = pier_light();
    holed.facets.remove(1000);
    let (shelf, mut history) = job_of(&[("light", &stl(&holed, "light"))]);
    let red = Edit::AddRegion {
        region: "red".into(),
        name: "Red".into(),
        colour: Colour([200, 0, 0]),
        slot: None,
    };
    history.apply(red, &shelf).expect("added");
    let open = history.job().models[0].open.clone();
    let spot = open
        .mesh
        .corners(0)
        .iter()
        .fold([0.0; 3], |s, c| [0, 1, 2].map(|i| s[i] + c[i] / 3.0));
    let normal = varichrom_core::mesh::facet_normal(&open.mesh.corners(0)).expect("area");
    let give = Edit::GivePatch {
        region: "red".into(),
        at: at("light", spot, normal),
        crease_deg: 30.0,
    };
    history.apply(give, &shelf).expect("given");
    let red_facets = |h: &History| h.job().models[0].facet_region.iter().flatten().count();
    let (before, facets) = (red_facets(&history), open.mesh.facets.len());
    assert!(before > 0);
    let mend = Edit::Mend {
        model: "light".into(),
        mending: Mending {
            holes_mm: Some(5.0),
            ..Mending::default()
        },
    };
    history.apply(mend.clone(), &shelf).expect("mended");
    assert!(history.job().models[0].open.is_closed());
    assert!(red_facets(&history) >= before);
    let again = history.apply(mend, &shelf).err().map(|p| p.code);
    assert_eq!(again.as_deref(), Some("mend-nothing"));
    history.undo(&shelf).expect("undone");
    assert_eq!(
        (
            red_facets(&history),
            history.job().models[0].open.mesh.facets.len()
        ),
        (before, facets)
    );
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(96))]

    /// Whatever is broken, mending never panics, never makes it less closed, and a second time finds nothing.
    #[test]
    fn mending_settles(
        drop in prop::collection::vec(any::<prop::sample::Index>(), 0..6),
        turn in prop::collection::vec(any::<prop::sample::Index>(), 0..6),
        double in prop::collection::vec(any::<prop::sample::Index>(), 0..4),
    ) {
        let mut mesh = signal_tiles();
        for i in double {
            let facet = mesh.facets[i.index(mesh.facets.len())];
            mesh.facets.push(facet);
        }
        for i in turn {
            let n = mesh.facets.len();
            mesh.facets[i.index(n)].swap(0, 1);
        }
        for i in drop {
            mesh.facets.remove(i.index(mesh.facets.len()));
        }
        let all = Mending { weld_mm: Some(0.001), degenerate: true, duplicates: true, turn: true, holes_mm: Some(200.0), specks_mm: None };
        let before = shapes::open(&mesh);
        let once = before.mended(&all).expect("mended");
        prop_assert!(count(&once.open, DefectKind::OpenEdge) <= count(&before, DefectKind::OpenEdge));
        prop_assert_eq!(count(&once.open, DefectKind::DuplicateFacet), 0);
        let twice = once.open.mended(&all).expect("mended");
        prop_assert_eq!(twice.report.added, 0);
        prop_assert_eq!(twice.report.duplicates, 0);
    }
}

// Colours that files bring.

const BOAT: &str = "mtllib paint.mtl\nv 0 0 0\nv 4 0 0\nv 4 4 0\nv 0 4 0\nv 0 0 4\nv 4 0 4\nv 4 4 4\nv 0 4 4\n\
    usemtl hull\nf 1 4 3 2\nf 1 2 6 5\nf 2 3 7 6\nf 3 4 8 7\nusemtl deck\nf 5 6 7 8\nf 4 1 5 8\n";
const PAINT: &str = "newmtl hull\nKd 0.8 0.1 0.1\nnewmtl deck\nKd 0.9 0.85 0.7\n";

fn keep(model: &str, most: u8) -> Edit {
    Edit::KeepColours {
        model: model.into(),
        most,
    }
}

#[test]
fn material_colours_become_regions_and_the_widest_takes_the_first_region() {
    let files = [("paint.mtl".to_string(), PAINT.as_bytes().to_vec())];
    let boat = varichrom_core::formats::bundle(("boat.obj", BOAT.into()), &files).expect("bundled");
    let (shelf, mut history) = job_of(&[("boat", &boat)]);
    history.apply(keep("boat", 4), &shelf).expect("kept");
    let job = history.job();
    let regions: Vec<(&str, Colour)> = job
        .live_regions()
        .map(|(_, r)| (r.name.as_str(), r.colour))
        .collect();
    // Kd is a share of full light; 0.8 of 255 is 204.
    assert_eq!(
        regions,
        [
            ("hull", Colour([204, 26, 26])),
            ("deck", Colour([230, 217, 179]))
        ]
    );
    let of = |f| job.region_of_facet(0, f);
    assert_eq!((0..8).map(of).collect::<Vec<_>>(), [0; 8]);
    assert_eq!((8..12).map(of).collect::<Vec<_>>(), [1; 4]);
    // A second time makes no more regions; undo leaves the plain model.
    history.apply(keep("boat", 4), &shelf).expect("again");
    assert_eq!(history.job().live_regions().count(), 2);
    history
        .undo(&shelf)
        .and_then(|_| history.undo(&shelf))
        .expect("undone");
    assert_eq!(history.job().live_regions().count(), 1);
    assert!(
        history.job().models[0]
            .facet_region
            .iter()
            .all(Option::is_none)
    );
    assert_eq!(history.job().regions[0].name, "Plain");
}

#[rstest]
#[case(1)]
#[case(4)]
#[case(7)]
fn colours_that_vary_are_brought_together_into_the_number_asked_for(#[case] most: u8) {
    let sphere = varichrom_demo::subdivided_sphere(10.0, 4);
    // A smooth ramp of hue by height and turn.
    let mut text = String::new();
    for [x, y, z] in &sphere.vertices {
        let shade = |c: f64| (0.5 + c / 20.0).clamp(0.0, 1.0);
        text += &format!("v {x} {y} {z} {} {} {}\n", shade(*x), shade(*y), shade(*z));
    }
    for [a, b, c] in &sphere.facets {
        text += &format!("f {} {} {}\n", a + 1, b + 1, c + 1);
    }
    let (shelf, mut history) = job_of(&[("globe", text.as_bytes())]);
    history.apply(keep("globe", most), &shelf).expect("kept");
    let job = history.job();
    let used: std::collections::BTreeSet<u16> = (0..sphere.facets.len() as u32)
        .map(|f| job.region_of_facet(0, f))
        .collect();
    assert_eq!(used.len(), usize::from(most));
    assert_eq!(job.live_regions().count(), usize::from(most));
}

#[test]
fn a_file_without_colours_says_so() {
    let (shelf, mut history) = job_of(&[("brick", &brick())]);
    let refused = history.apply(keep("brick", 4), &shelf);
    assert_eq!(
        refused.err().map(|p| p.code).as_deref(),
        Some("file-without-colours")
    );
}

// Copies.

#[test]
fn copies_multiply_plastic_and_not_swaps() {
    let (shelf, mut history) = job_of(&[("tiles", &stl(&signal_tiles(), "tiles"))]);
    let red = Edit::AddRegion {
        region: "red".into(),
        name: "Red".into(),
        colour: Colour([200, 0, 0]),
        slot: Some(2),
    };
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
    let give = Edit::GivePatch {
        region: "red".into(),
        at: at("tiles", spot, [0.0, 0.0, 1.0]),
        crease_deg: 30.0,
    };
    history.apply(give, &shelf).expect("given");
    let plan_of = |h: &History| {
        let job = h.job();
        let settings = Settings::from(&job.printer);
        let found =
            survey(job.bodies(), settings, job.deepest_soak_mm(), &|_| true).expect("not stopped");
        plan(job, &rack(), &label(&found, &job.claims())).expect("few slots")
    };
    let one = plan_of(&history);
    history
        .apply(
            Edit::SetCopies {
                across: 3,
                along: 2,
                spacing_mm: 5.0,
            },
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

// Sizes and routes.

const BED: [f64; 3] = [220.0, 220.0, 240.0];

#[rstest]
#[case::a_coin_in_inches([1.0, 1.0, 0.1], LengthUnit::Millimetre, false, Some(LengthUnit::Inch))]
#[case::a_vase_in_metres([0.08, 0.08, 0.15], LengthUnit::Millimetre, false, Some(LengthUnit::Metre))]
#[case::a_box_in_microns([80_000.0, 80_000.0, 20_000.0], LengthUnit::Millimetre, false, Some(LengthUnit::Micron))]
#[case::inches_that_were_millimetres([1016.0, 1016.0, 508.0], LengthUnit::Inch, true, Some(LengthUnit::Millimetre))]
#[case::too_large_in_any_unit([500.0, 10.0, 10.0], LengthUnit::Millimetre, false, None)]
fn odd_sizes_are_noticed_with_the_unit_that_would_fit(
    #[case] size: [f64; 3],
    #[case] unit: LengthUnit,
    #[case] is_stated: bool,
    #[case] better: Option<LengthUnit>,
) {
    let doubt = size_doubt(size, unit, is_stated, BED).expect("a doubt");
    assert_eq!(doubt.unit, better, "{}", doubt.message);
}

#[rstest]
#[case([34.0, 34.0, 58.0], false)]
#[case([220.0, 220.0, 240.0], false)]
#[case([6.0, 6.0, 3.0], true)]
fn likely_sizes_are_left_alone(#[case] size: [f64; 3], #[case] is_stated: bool) {
    assert_eq!(
        size_doubt(size, LengthUnit::Millimetre, is_stated, BED),
        None
    );
}

#[test]
fn the_route_fits_the_model() {
    let best = |mesh: &Mesh| {
        let found = split(&shapes::open(mesh), 30.0, &Printer::default());
        (found.routes[0].kind, found)
    };
    let (kind, found) = best(&signal_tiles());
    assert_eq!((kind, found.parts), (RouteKind::Parts, 4));
    assert_eq!(found.answer, "4 separate parts");
    let (kind, found) = best(&pier_light());
    assert_eq!((kind, found.parts), (RouteKind::Patches, 1));
    assert!(found.answer.starts_with("One fused body"));
    let (kind, found) = best(&varichrom_demo::subdivided_sphere(20.0, 5));
    assert_eq!((kind, found.patches), (RouteKind::Strokes, 1));
    let (kind, found) = best(&box_mesh([0.0; 3], [10.0; 3]));
    assert_eq!(
        (kind, found.patches, found.large_patches),
        (RouteKind::Patches, 6, 6)
    );
    // One slot swaps by hand: height first.
    let by_hand = Printer {
        slots: 1,
        ..Printer::default()
    };
    let found = split(&shapes::open(&pier_light()), 30.0, &by_hand);
    assert_eq!(found.routes[0].kind, RouteKind::Bands);
}

// Revised models.

#[test]
fn a_new_version_gets_the_old_edits_and_lists_the_lost_ones() {
    let old = together(&[
        box_mesh([0.0; 3], [10.0; 3]),
        box_mesh([20.0, 0.0, 0.0], [30.0, 10.0, 10.0]),
    ]);
    // The new one has the first body longer, and the second is gone.
    let new = box_mesh([0.0; 3], [10.0, 14.0, 10.0]);
    let (mut shelf, mut history) = job_of(&[("mug", &stl(&old, "mug"))]);
    shelf.0.insert("new".into(), Arc::new(shapes::open(&new)));
    let add = |key: &str| Edit::AddRegion {
        region: key.into(),
        name: key.into(),
        colour: Colour([9, 9, 9]),
        slot: None,
    };
    let give = |key: &str, point: [f64; 3]| Edit::GivePatch {
        region: key.into(),
        at: at("mug", point, [0.0, 0.0, 1.0]),
        crease_deg: 30.0,
    };
    for edit in [
        add("lid"),
        give("lid", [5.0, 5.0, 10.0]),
        Edit::RenameModel {
            model: "mug".into(),
            name: "cup".into(),
        },
        Edit::GivePatch {
            region: "lid".into(),
            at: at("cup", [25.0, 5.0, 10.0], [0.0, 0.0, 1.0]),
            crease_deg: 30.0,
        },
    ] {
        history.apply(edit, &shelf).expect("sound");
    }
    let revise = Edit::ReviseModel {
        model: "cup".into(),
        file: "mug-2.stl".into(),
        content: "new".into(),
    };
    history.apply(revise, &shelf).expect("revised");
    let job = history.job();
    assert_eq!(
        (job.models[0].name.as_str(), job.models[0].file.as_str()),
        ("cup", "mug-2.stl")
    );
    let lid = job.region("lid").expect("still there");
    let lids: Vec<u32> = (0..12)
        .filter(|f| job.region_of_facet(0, *f) == lid)
        .collect();
    assert_eq!(lids.len(), 2);
    assert!(lids.iter().all(|f| {
        job.models[0]
            .open
            .mesh
            .corners(*f)
            .iter()
            .all(|c| c[2] == 10.0)
    }));
    assert_eq!(job.lost.len(), 1);
    assert_eq!(
        (job.lost[0].number, job.lost[0].at),
        (5, Some([25.0, 5.0, 10.0]))
    );
    assert_eq!(job.lost[0].why.code, "place-off-the-mesh");

    // It survives a replay from the stored edits, as after a restart, and can be undone.
    let again =
        History::replay(history.edits().to_vec(), history.head(), &shelf).expect("replayed");
    assert_eq!(
        again.job().models[0].facet_region,
        job.models[0].facet_region
    );
    assert_eq!(again.job().lost, job.lost);
    history.undo(&shelf).expect("undone");
    assert_eq!(history.job().models[0].open.parts.len(), 2);
    assert!(history.job().lost.is_empty());
}

#[test]
fn taking_a_model_out_and_back() {
    let (shelf, mut history) = job_of(&[
        ("a", &brick()),
        ("b", &obj(&box_mesh([0.0; 3], [3.0; 3]), "cube")),
    ]);
    let parts = |h: &History| -> Vec<String> {
        h.job()
            .models
            .iter()
            .flat_map(|m| m.parts.iter().map(|p| p.name.clone()))
            .collect()
    };
    assert_eq!(parts(&history), ["a", "cube"]);
    history
        .apply(Edit::RemoveModel { model: "a".into() }, &shelf)
        .expect("out");
    assert_eq!(parts(&history), ["cube"]);
    let last = history.apply(Edit::RemoveModel { model: "b".into() }, &shelf);
    assert_eq!(last.err().map(|p| p.code).as_deref(), Some("model-last"));
    history.undo(&shelf).expect("back");
    assert_eq!(parts(&history), ["a", "cube"]);
    assert_eq!(history.job().models[0].facet_region.len(), 12);
}

// Histories.

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
                &m.facet_region,
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
                alone: n % 2 == 0,
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
        },
        _ => Edit::RemoveModel {
            model: if n % 2 == 0 { "box" } else { "boat" }.into(),
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
