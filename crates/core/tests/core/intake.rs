//! Colours that files bring, sizes in doubt, ways of colouring, and models replaced by new versions.

use crate::jobs_of::{BOAT, PAINT, at, brick, job_of, keep};
use rstest::rstest;
use std::sync::Arc;
use varichrom_core::advice::intake::{RouteKind, size_doubt, split};
use varichrom_core::colour::Colour;
use varichrom_core::job::{Edit, GiveEdit, History, LengthUnit, ModelEdit, RegionEdit};
use varichrom_core::machine::{MachineKind, Printer};
use varichrom_core::mesh::Mesh;
use varichrom_core::regions::Within;
use varichrom_demo::{box_mesh, obj, pier_light, signal_tiles, stl, together};

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
    assert!(history.job().models[0].labels.is_plain());
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
        let found = split(&crate::shapes::open(mesh), 30.0, &Printer::default());
        (found.routes[0].kind, found)
    };
    let (kind, found) = best(&signal_tiles());
    assert_eq!((kind, found.parts), (RouteKind::Parts, 4));
    assert_eq!(found.answer, "4 separate parts");
    // A ball in a ring: two parts, and a patch each, which adds nothing.
    let (kind, found) = best(&varichrom_demo::float_in_ring());
    assert_eq!((kind, found.patches), (RouteKind::Parts, 2));
    assert!(
        !found
            .routes
            .iter()
            .any(|r| r.kind == RouteKind::Patches && r.works)
    );
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
    let found = split(&crate::shapes::open(&pier_light()), 30.0, &by_hand);
    assert_eq!(found.routes[0].kind, RouteKind::Bands);
}

#[rstest]
#[case::feeder("feeder", RouteKind::Patches, RouteKind::Parts)]
#[case::by_hand("at-pause", RouteKind::Bands, RouteKind::Bands)]
#[case::passes("pass-per-colour", RouteKind::Bands, RouteKind::Bands)]
#[case::tools("tools", RouteKind::Strokes, RouteKind::Parts)]
#[case::mixing("mixing", RouteKind::Bands, RouteKind::Parts)]
fn the_route_fits_the_machine(
    #[case] key: &str,
    #[case] fused: RouteKind,
    #[case] of_parts: RouteKind,
) {
    let choice = MachineKind::CHOICES.iter().find(|c| c.key == key);
    let printer = Printer {
        kind: choice.expect("a kind of machine").kind,
        ..Printer::default()
    };
    let first = |mesh: &Mesh| split(&crate::shapes::open(mesh), 30.0, &printer).routes[0].kind;
    assert_eq!(first(&pier_light()), fused);
    assert_eq!(first(&signal_tiles()), of_parts);
}

#[test]
fn a_new_version_gets_the_old_edits_and_lists_the_lost_ones() {
    let old = together(&[
        box_mesh([0.0; 3], [10.0; 3]),
        box_mesh([20.0, 0.0, 0.0], [30.0, 10.0, 10.0]),
    ]);
    // The new one has the first body longer, and the second is gone.
    let new = box_mesh([0.0; 3], [10.0, 14.0, 10.0]);
    let (mut shelf, mut history) = job_of(&[("mug", &stl(&old, "mug"))]);
    shelf
        .0
        .insert("new".into(), Arc::new(crate::shapes::open(&new)));
    let add = |key: &str| {
        Edit::Region(RegionEdit::AddRegion {
            region: key.into(),
            name: key.into(),
            colour: Colour([9, 9, 9]),
            slot: None,
        })
    };
    let give = |key: &str, point: [f64; 3]| {
        Edit::Give(GiveEdit::GivePatch {
            region: key.into(),
            at: at("mug", point, [0.0, 0.0, 1.0]),
            crease_deg: 30.0,
            within: Within::Part,
            turn_deg: None,
        })
    };
    for edit in [
        add("lid"),
        give("lid", [5.0, 5.0, 10.0]),
        Edit::Model(ModelEdit::RenameModel {
            model: "mug".into(),
            name: "cup".into(),
        }),
        Edit::Give(GiveEdit::GivePatch {
            region: "lid".into(),
            at: at("cup", [25.0, 5.0, 10.0], [0.0, 0.0, 1.0]),
            crease_deg: 30.0,
            within: Within::Part,
            turn_deg: None,
        }),
    ] {
        history.apply(edit, &shelf).expect("sound");
    }
    let revise = Edit::Model(ModelEdit::ReviseModel {
        model: "cup".into(),
        file: "mug-2.stl".into(),
        content: "new".into(),
    });
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
    assert_eq!(again.job().models[0].labels, job.models[0].labels);
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
        .apply(
            Edit::Model(ModelEdit::RemoveModel { model: "a".into() }),
            &shelf,
        )
        .expect("out");
    assert_eq!(parts(&history), ["cube"]);
    let last = history.apply(
        Edit::Model(ModelEdit::RemoveModel { model: "b".into() }),
        &shelf,
    );
    assert_eq!(last.err().map(|p| p.code).as_deref(), Some("model-last"));
    history.undo(&shelf).expect("back");
    assert_eq!(parts(&history), ["a", "cube"]);
    assert_eq!(history.job().models[0].labels.len(), 12);
}
