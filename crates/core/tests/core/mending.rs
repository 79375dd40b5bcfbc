//! Mending: what each step does to a broken mesh, and that it settles.

use crate::jobs_of::{EXACT, at, job_of};
use crate::judge::cases;
use crate::shapes::count;
use approx::assert_relative_eq;
use proptest::prelude::*;
use rstest::rstest;
use varichrom_core::colour::Colour;
use varichrom_core::job::{Edit, GiveEdit, History, ModelEdit, RegionEdit};
use varichrom_core::mesh::{DefectKind, Mesh};
use varichrom_core::model::{Mending, OpenMesh};
use varichrom_core::regions::Within;
use varichrom_demo::{box_mesh, pier_light, signal_tiles, stl, together};

fn mended(mesh: &Mesh, mending: Mending) -> (OpenMesh, varichrom_core::model::MendReport) {
    let open = crate::shapes::open(mesh);
    let mended = open.mended(&mending).expect("mended");
    assert_eq!(mended.from.len(), mended.open.mesh.facets.len());
    (mended.open, mended.report)
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
    let before = crate::shapes::open(&needle);
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
    let before = crate::shapes::open(&sphere);
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
    let full = OpenMesh::volume_mm3(&crate::shapes::open(&copy));
    assert!(open.volume_mm3() < full && open.volume_mm3() > full - cap);
}

#[test]
fn holes_that_meet_at_corners_close_one_by_one() {
    // Of every four facets of the subdivision the fourth is the middle one: without the other three it hangs by its
    // corners alone, between three holes of one facet each.
    let mut sphere = varichrom_demo::subdivided_sphere(15.0, 4);
    let whole = crate::shapes::open(&sphere).volume_mm3();
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
    let red = Edit::Region(RegionEdit::AddRegion {
        region: "red".into(),
        name: "Red".into(),
        colour: Colour([200, 0, 0]),
        slot: None,
    });
    history.apply(red, &shelf).expect("added");
    let open = history.job().models[0].open.clone();
    let spot = open
        .mesh
        .corners(0)
        .iter()
        .fold([0.0; 3], |s, c| [0, 1, 2].map(|i| s[i] + c[i] / 3.0));
    let normal = varichrom_core::mesh::facet_normal(&open.mesh.corners(0)).expect("area");
    let give = Edit::Give(GiveEdit::GivePatch {
        region: "red".into(),
        at: at("light", spot, normal),
        crease_deg: 30.0,
        within: Within::Part,
        turn_deg: None,
    });
    history.apply(give, &shelf).expect("given");
    let red_facets = |h: &History| h.job().models[0].labels.covered();
    let (before, facets) = (red_facets(&history), open.mesh.facets.len());
    assert!(before > 0);
    let mend = Edit::Model(ModelEdit::Mend {
        model: "light".into(),
        mending: Mending {
            holes_mm: Some(5.0),
            ..Mending::default()
        },
    });
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
    #![proptest_config(cases(96))]

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
        let before = crate::shapes::open(&mesh);
        let once = before.mended(&all).expect("mended");
        prop_assert!(count(&once.open, DefectKind::OpenEdge) <= count(&before, DefectKind::OpenEdge));
        prop_assert_eq!(count(&once.open, DefectKind::DuplicateFacet), 0);
        let twice = once.open.mended(&all).expect("mended");
        prop_assert_eq!(twice.report.added, 0);
        prop_assert_eq!(twice.report.duplicates, 0);
    }
}
