//! Layers of models with divided facets: the ownership rule does not see how a border came about.

use crate::jobs_of::job_of;
use crate::judge::cases;
use approx::assert_relative_eq;
use proptest::prelude::*;
use varichrom_core::carve::{Labels, refined};
use varichrom_core::colour::Colour;
use varichrom_core::job::{Edit, GiveEdit, History, RegionEdit};
use varichrom_core::layers::{LayerShare, Settings, Touched, label, label_between, survey};
use varichrom_core::machine::Printer;
use varichrom_core::model::OpenMesh;
use varichrom_core::regions::{Reach, Stroke};
use varichrom_demo::{box_mesh, revolve, stl, subdivided_sphere};

fn red() -> Edit {
    Edit::Region(RegionEdit::AddRegion {
        region: "red".into(),
        name: "Red".into(),
        colour: Colour([200, 30, 30]),
        slot: None,
    })
}

fn band(low_mm: f64, high_mm: f64) -> Edit {
    Edit::band("red", [low_mm, high_mm], None, None)
}

fn layers(history: &History) -> Vec<LayerShare> {
    let job = history.job();
    let found = survey(
        job.bodies(),
        Settings::from(&Printer::default()),
        0.8,
        &|_| true,
    );
    label(&found.expect("not stopped"), &job.claims())
}

#[test]
fn a_band_cut_into_long_facets_gives_the_layers_of_a_mesh_made_in_rings() {
    let heights = (3.07, 7.13);
    let rod = |rings: &[f64]| {
        let mut profile = vec![(0.0, 0.0), (8.0, 0.0)];
        profile.extend(rings.iter().map(|z| (8.0, *z)));
        profile.extend([(8.0, 14.0), (0.0, 14.0)]);
        stl(&revolve(&profile, 60), "rod")
    };
    let (shelf, mut cut) = job_of(&[("it", &rod(&[]))]);
    let (other_shelf, mut rings) = job_of(&[("it", &rod(&[heights.0, heights.1]))]);
    cut.apply(red(), &shelf).expect("new");
    cut.apply(band(heights.0, heights.1), &shelf)
        .expect("a band");
    rings.apply(red(), &other_shelf).expect("new");
    rings
        .apply(band(heights.0, heights.1), &other_shelf)
        .expect("a band");
    // The file holds 32-bit heights, so the rings' own facets may be cut by a hair; hardly any are.
    assert!(rings.job().models[0].labels.divisions().count() <= 240);
    for (a, b) in layers(&cut).iter().zip(&layers(&rings)) {
        for (x, y) in a.regions.iter().zip(&b.regions) {
            assert_relative_eq!(x.area_mm2, y.area_mm2, max_relative = 1e-6, epsilon = 1e-6);
            assert_relative_eq!(
                x.solid_mm2,
                y.solid_mm2,
                max_relative = 1e-6,
                epsilon = 1e-6
            );
        }
    }
}

#[test]
fn layers_of_the_divided_mesh_are_those_of_the_refined_one() {
    // The same job, and one whose mesh is the first one's with its divisions carried out and no division left.
    let bytes = stl(&box_mesh([0.0; 3], [20.0, 15.0, 8.0]), "box");
    let (shelf, mut history) = job_of(&[("it", &bytes)]);
    history.apply(red(), &shelf).expect("new");
    let stroke = Edit::Give(GiveEdit::GiveStroke {
        region: "red".into(),
        reach: Reach::Dip,
        stroke: Stroke {
            model: "it".into(),
            path: vec![[3.0, 0.0, 4.0], [12.0, 0.0, 6.0]],
            radius_mm: 1.7,
            eye: [10.0, -100.0, 5.0],
        },
    });
    history.apply(stroke, &shelf).expect("a stroke");
    let model = &history.job().models[0];
    let fine = refined(&model.open, &model.labels);
    let labels = Labels::of(fine.labels.clone());
    let open = std::sync::Arc::new(OpenMesh::of(fine.mesh, model.open.origin.clone()));
    let settings = Settings::from(&Printer::default());
    let found =
        survey(crate::shapes::bodies(&open), settings, 0.8, &|_| true).expect("not stopped");
    let mut claims = history.job().claims();
    claims.labels = vec![&labels];
    let other = label(&found, &claims);
    let red = usize::from(history.job().region("red").expect("red"));
    let mut seen = 0.0;
    for (a, b) in layers(&history).iter().zip(&other) {
        // Within a cell the border of the refined mesh is told from the facets of two cells, and small ones may lie between:
        // a fifth of a cell along the border of some 5 mm.
        let off = (a.regions[red].area_mm2 - b.regions[red].area_mm2).abs();
        assert!(off <= 0.2, "off by {off}");
        seen += a.regions[red].area_mm2;
    }
    assert!(seen > 50.0);
}

proptest! {
    #![proptest_config(cases(10))]

    /// Dividing only the layers that an edit touched gives what dividing all of them gives, forth and back.
    #[test]
    fn only_touched_layers_need_dividing(
        strokes in prop::collection::vec((0.0..std::f64::consts::TAU, -9.0..9.0f64, 0.3..3.0f64, any::<bool>()), 1..6)
    ) {
        let bytes = stl(&subdivided_sphere(10.0, 4), "ball");
        let (shelf, mut history) = job_of(&[("it", &bytes)]);
        history.apply(red(), &shelf).expect("new");
        let settings = Settings::from(&Printer::default());
        let found = survey(history.job().bodies(), settings, 0.8, &|_| true).expect("not stopped");
        let mut shares = label(&found, &history.job().claims());
        for (angle, z, radius_mm, is_band) in strokes {
            let edit = if is_band {
                band(z + 10.0, z + 10.0 + radius_mm)
            } else {
                let flat = (100.0 - z * z).sqrt();
                Edit::Give(GiveEdit::GiveStroke {
                    region: "red".into(),
                    reach: Reach::Dab,
                    stroke: Stroke {
                        model: "it".into(),
                        path: vec![[flat * angle.cos(), flat * angle.sin(), z]],
                        radius_mm,
                        eye: [90.0 * angle.cos(), 90.0 * angle.sin(), z],
                    },
                })
            };
            // A point of the ball may lie off its facets; then the stroke is refused and nothing changes.
            if history.apply(edit, &shelf).is_err() {
                continue;
            }
            let Touched::Heights(span) = history.touched() else { panic!("a tool of Colour") };
            label_between(&found, &history.job().claims(), None, span, &mut shares);
            prop_assert_eq!(&shares, &label(&found, &history.job().claims()));
        }
        while history.head() > 2 {
            history.undo(&shelf).expect("a step back");
            let Touched::Heights(span) = history.touched() else { panic!("a tool of Colour") };
            label_between(&found, &history.job().claims(), None, span, &mut shares);
            prop_assert_eq!(&shares, &label(&found, &history.job().claims()));
        }
    }
}
