//! A machine that prints any colour: no slots and no swaps, base materials and opacity by part, and every output read back.

use crate::jobs_of::{at, job_of};
use rstest::rstest;
use std::collections::BTreeMap;
use varichrom_core::advice::checked_plan;
use varichrom_core::advice::load::{Level, checks, spool_needs};
use varichrom_core::colour::Colour;
use varichrom_core::formats::unzip_files;
use varichrom_core::handover::{BodyDepth, closed_bodies, parts_zip};
use varichrom_core::job::{Edit, GiveEdit, History, PartEdit, RegionEdit, SlotEdit};
use varichrom_core::layers::{Settings, label, survey};
use varichrom_core::machine::{MachineKind, Printer};
use varichrom_core::model::OpenMesh;
use varichrom_demo::{box_mesh, stl, together};

const TOP: [f64; 3] = [0.0, 0.0, 1.0];

fn jetting(is_grey: bool) -> Printer {
    let examples = Printer::examples();
    let found = examples.into_iter().find(|p| p.profile().jets);
    Printer {
        kind: MachineKind::Jetting { is_grey },
        ..found.expect("an example")
    }
}

/// Two blocks, the first with a lid of another colour, the second of soft material that hides 40 %.
fn job(is_grey: bool) -> History {
    let blocks = together(&[
        box_mesh([0.0; 3], [10.0, 10.0, 5.0]),
        box_mesh([20.0, 0.0, 0.0], [30.0, 10.0, 5.0]),
    ]);
    let (shelf, mut history) = job_of(&[("it", &stl(&blocks, "it"))]);
    let add = |key: &str, colour: [u8; 3]| {
        Edit::Region(RegionEdit::AddRegion {
            region: key.into(),
            name: key.to_uppercase(),
            colour: Colour(colour),
            slot: None,
        })
    };
    let edits = [
        Edit::Slot(SlotEdit::SetPrinter {
            printer: jetting(is_grey),
        }),
        add("lid", [12, 200, 77]),
        add("other", [201, 33, 144]),
        Edit::Give(GiveEdit::GiveFacets {
            region: "lid".into(),
            at: vec![at("it", [5.0, 5.0, 5.0], TOP)],
            flat: true,
        }),
        Edit::Region(RegionEdit::GivePart {
            region: "other".into(),
            at: at("it", [25.0, 5.0, 5.0], TOP),
        }),
        Edit::Part(PartEdit::MadeOf {
            at: at("it", [25.0, 5.0, 5.0], TOP),
            material: Some("Soft".into()),
            opacity: 0.4,
        }),
    ];
    for edit in edits {
        history
            .apply(edit, &shelf)
            .unwrap_or_else(|p| panic!("{p}"));
    }
    history
}

#[rstest]
fn nothing_is_swapped_or_purged_whatever_the_colours() {
    let history = job(false);
    let job = history.job();
    let settings = Settings::from(&job.printer);
    let found = survey(job.bodies(), settings, job.deepest_soak_mm(), &|_| true).expect("done");
    let plan = checked_plan(job, &[], &label(&found, &job.claims())).expect("a plan");
    assert_eq!(plan.swaps.len(), 0);
    assert_eq!(plan.bill.purge_g, 0.0);
    // And no spool gives anything, so none is taken off the rack.
    assert!(spool_needs(job, &[], &plan).is_empty());
}

#[rstest]
fn what_is_written_says_colours_materials_and_how_much_they_hide() {
    let history = job(false);
    let model = history.job().threemf(&[]).expect("written");
    let open = OpenMesh::from_bytes(&model).expect("read");
    let colours = open.origin.colours.as_ref().expect("colours");
    let mut areas: BTreeMap<(Colour, i32), f64> = BTreeMap::new();
    for (facet, colour) in colours.facets.iter().enumerate() {
        let of = &colours.palette[*colour as usize];
        let hides = (100.0 * of.opacity).round() as i32;
        *areas.entry((of.colour, hides)).or_default() += open.facet_areas()[facet];
    }
    // 400 mm² of sides and bottom and a lid of 100; the other block of 400 hides 40 %.
    let base = history.job().regions[0].colour;
    let wanted = [
        ((Colour([12, 200, 77]), 100), 100.0),
        ((Colour([201, 33, 144]), 40), 400.0),
        ((base, 100), 300.0),
    ];
    assert_eq!(areas.len(), wanted.len(), "{areas:?}");
    for (key, area) in wanted {
        assert!(
            (areas[&key] - area).abs() < 1e-6,
            "{key:?}: {}",
            areas[&key]
        );
    }
    let files = unzip_files(&model, &|n| n == "3D/3dmodel.model").expect("a package");
    let xml = String::from_utf8_lossy(&files["3D/3dmodel.model"]).into_owned();
    for words in ["Soft, rubber-like, Shore A 50", "Rigid, rigid"] {
        assert!(xml.contains(words), "no {words} in {xml}");
    }
    let wrl = String::from_utf8(history.job().vrml(&[]).expect("written")).expect("text");
    assert_eq!(wrl.matches("transparency 0.600").count(), 1, "{wrl}");
    let obj = unzip_files(&history.job().obj(&[]).expect("written"), &|n| {
        n == "model.mtl"
    });
    let mtl = String::from_utf8(obj.expect("a ZIP")["model.mtl"].clone()).expect("text");
    assert!(mtl.contains("d 0.4"), "{mtl}");
}

#[rstest]
fn bodies_come_with_a_table_of_materials_and_colours() {
    let history = job(false);
    let bodies = closed_bodies(history.job(), BodyDepth::Soak, &|_| true);
    let bodies = bodies.expect("bodies").expect("not stopped");
    let zip = parts_zip(history.job(), &bodies, "2031-05-24").expect("packed");
    let files = unzip_files(&zip, &|_| true).expect("a ZIP");
    let table = String::from_utf8(files["bodies.csv"].clone()).expect("text");
    let rows: Vec<&str> = table.lines().collect();
    assert_eq!(rows.len(), 1 + bodies.bodies.len());
    let soft: Vec<&&str> = rows.iter().filter(|r| r.contains("Shore A 50")).collect();
    let [soft] = soft[..] else {
        panic!("{table}");
    };
    assert!(
        soft.contains("201,33,144") && soft.contains(",40,500.0"),
        "{soft}"
    );
    // Every row names a file that is there.
    for row in &rows[1..] {
        let file = row.split('"').nth(1).expect("quoted");
        assert!(files.contains_key(file), "{file}");
    }
}

#[rstest]
fn what_needs_a_body_and_what_the_printer_lacks_is_said() {
    let (shelf, mut history) = {
        let blocks = box_mesh([0.0; 3], [10.0, 10.0, 5.0]);
        let (shelf, history) = job_of(&[("it", &stl(&blocks, "it"))]);
        (shelf, history)
    };
    let codes = |history: &History| -> Vec<&'static str> {
        let found = checks(history.job(), &[], None, None, None);
        found.iter().map(|c| c.code).collect()
    };
    let here = || at("it", [5.0, 5.0, 0.0], [0.0, 0.0, -1.0]);
    let made_of = |material: &str, opacity: f64| {
        Edit::Part(PartEdit::MadeOf {
            at: here(),
            material: Some(material.into()),
            opacity,
        })
    };
    let mut apply = |edit: Edit| history.apply(edit, &shelf).map(|_| ());
    apply(Edit::Slot(SlotEdit::SetPrinter {
        printer: jetting(false),
    }))
    .expect("set");
    apply(Edit::Region(RegionEdit::AddRegion {
        region: "lid".into(),
        name: "Lid".into(),
        colour: Colour([12, 200, 77]),
        slot: None,
    }))
    .expect("added");
    apply(Edit::Give(GiveEdit::GiveFacets {
        region: "lid".into(),
        at: vec![at("it", [5.0, 5.0, 5.0], TOP)],
        flat: true,
    }))
    .expect("given");
    apply(made_of("Clear", 0.2)).expect("made");
    assert_eq!(
        apply(made_of("Clear", 1.5)).expect_err("too much").code,
        "opacity-out-of-range"
    );
    assert_eq!(codes(&history), ["body-of-its-own"]);
    history.apply(made_of("Glue", 1.0), &shelf).expect("made");
    assert_eq!(codes(&history)[0], "material-missing");
    let found = checks(history.job(), &[], None, None, None);
    assert_eq!(found[0].level, Level::Wrong);
}

#[rstest]
fn colours_that_become_one_grey_are_said_on_a_grey_machine_only() {
    let found = |is_grey: bool| {
        let mut history = job(is_grey);
        // Of one lightness (CIELAB L* near 54).
        for (region, colour) in [("lid", [200, 90, 90]), ("other", [60, 138, 138])] {
            let recolour = Edit::Region(RegionEdit::RecolourRegion {
                region: region.into(),
                colour: Colour(colour),
            });
            let (shelf, _) = job_of(&[]);
            history.apply(recolour, &shelf).expect("recoloured");
        }
        let found = checks(history.job(), &[], None, None, None);
        found.iter().filter(|c| c.code == "same-grey").count()
    };
    assert_eq!((found(false), found(true)), (0, 1));
}
