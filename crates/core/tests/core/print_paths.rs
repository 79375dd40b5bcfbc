//! Print files: shapes against the section and the plan, beads against areas, moves against the plan, words against moves.

use crate::jobs_of::{Shelf, job_of};
use crate::judge::cases;
use approx::assert_relative_eq;
use proptest::prelude::*;
use rstest::rstest;
use std::collections::HashMap;
use std::sync::{Arc, LazyLock, Mutex, OnceLock};
use varichrom_core::advice::{CheckedPlan, planned};
use varichrom_core::handover::{MovesOf, PrintFiles, job_beads, job_scripts, print_files};
use varichrom_core::job::{Edit, History, Job, ModelEdit, SlotEdit};
use varichrom_core::machine::{
    HandSwap, MachineKind, Printer, Printing, Seam, SkinFill, SparseFill,
};
use varichrom_core::model::OpenMesh;
use varichrom_core::paths::{Bead, BeadKind, Step, beads, pace};
use varichrom_core::plan::Planner;
use varichrom_core::shapes::Area;
use varichrom_demo::{box_mesh, demo_jobs, rack, stl};

/// A job of the demo's shelf on a kind of machine.
pub(crate) fn demo(name: &str, kind: MachineKind) -> Job {
    let demo = demo_jobs().into_iter().find(|j| j.name.starts_with(name));
    let demo = demo.expect("on the shelf");
    let mut shelf = Shelf::default();
    let open = OpenMesh::from_bytes(&demo.bytes).expect("sound");
    shelf.0.insert(demo.file.into(), Arc::new(open));
    let mut edits = vec![Edit::Model(ModelEdit::OpenModel {
        model: demo.model.into(),
        file: demo.file.into(),
        content: demo.file.into(),
    })];
    edits.extend(demo.edits);
    for edit in &mut edits {
        if let Edit::Slot(SlotEdit::SetPrinter { printer }) = edit {
            printer.kind = kind;
        }
    }
    let head = edits.len();
    let history = History::replay(edits, head, &shelf).expect("sound edits");
    history.job().clone()
}

pub(crate) struct Made {
    pub(crate) job: Job,
    pub(crate) plan: CheckedPlan,
    pub(crate) planner: Planner,
    files: OnceLock<Arc<PrintFiles>>,
}

/// By name and machine. Each is made once for all tests.
type Known = Mutex<HashMap<String, Arc<OnceLock<Arc<Made>>>>>;
static DEMO: LazyLock<Known> = LazyLock::new(Mutex::default);

impl Made {
    pub(crate) fn of(job: Job) -> Made {
        let mut planner = Planner::default();
        let plan = planned(&mut planner, &job, &rack(), &|_| true).expect("plans");
        Made {
            job,
            plan,
            planner,
            files: OnceLock::new(),
        }
    }

    /// A job of the demo, on a machine.
    pub(crate) fn demo(name: &str, kind: MachineKind) -> Arc<Made> {
        let mut known = DEMO.lock().expect("not poisoned");
        let found = known.entry(format!("{name} {kind:?}")).or_default().clone();
        drop(known);
        found
            .get_or_init(|| Arc::new(Made::of(demo(name, kind))))
            .clone()
    }

    pub(crate) fn steps(&self) -> Vec<Step> {
        let layers = job_beads(&self.job, &self.planner, &|_| true).expect("beads");
        let scripts = job_scripts(&self.job, &rack(), &self.plan, &layers).expect("sound");
        scripts.into_iter().flat_map(|s| s.steps).collect()
    }

    pub(crate) fn files(&self) -> Arc<PrintFiles> {
        let fresh = || Arc::new(self.files_anew());
        self.files.get_or_init(fresh).clone()
    }

    fn files_anew(&self) -> PrintFiles {
        let made = (&self.plan, &self.planner);
        print_files(&self.job, &rack(), made, ("print", None), &|_| true).expect("files")
    }
}

#[rstest]
#[case("Pier light")]
#[case("Gull")]
#[case("Compass-rose")]
fn shapes_of_slots_share_nothing_sum_to_the_section_and_agree_with_the_plan(#[case] name: &str) {
    let made = Made::demo(name, MachineKind::Feeder);
    let faces = made.planner.faces(&made.job.claims()).expect("surveyed");
    assert_eq!(faces.len(), made.plan.layers.len());
    let mut sums = [[0.0; 2]; 17];
    for (index, (layer, planned)) in faces.iter().zip(&made.plan.layers).enumerate() {
        let sum: f64 = layer.slots.iter().map(|(_, a)| a.mm2()).sum();
        let section = layer.section.mm2();
        // What nobody prints, because it is too thin, is in the section alone.
        assert!(
            sum <= section * (1.0 + 2e-5) + 1e-6,
            "layer {index}: {sum} of {section}"
        );
        for (i, (_, a)) in layer.slots.iter().enumerate() {
            for (_, b) in &layer.slots[i + 1..] {
                // Their edges are where they are to a few thousandths of a mm.
                let both = a.and(b).mm2();
                assert!(both < 1e-3 * a.edge_mm(), "layer {index}: {both}");
            }
        }
        for (slot, area) in &layer.slots {
            let by_plan = planned
                .areas_mm2
                .get(&(*slot as u8))
                .copied()
                .unwrap_or(0.0);
            let off = (area.mm2() - by_plan).abs();
            // A strip of less than a cell that the plan counts in part is there or it is not.
            assert!(
                off < 0.06 * by_plan + 2.0,
                "layer {index}, slot {slot}: {} against {by_plan}",
                area.mm2()
            );
            let sum = &mut sums[*slot as usize];
            *sum = [sum[0] + area.mm2(), sum[1] + by_plan];
        }
    }
    for [laid, planned] in sums {
        assert!(
            (laid - planned).abs() <= 0.01 * planned,
            "{laid} of {planned}"
        );
    }
}

#[rstest]
#[case("Pier light", MachineKind::Feeder)]
#[case("Tide plaque", MachineKind::Tools)]
#[case("Compass-rose", MachineKind::Splicer)]
#[case("Tide plaque", MachineKind::ByHand { how: HandSwap::AtPause })]
fn plastic_and_purge_are_laid_as_planned(#[case] name: &str, #[case] kind: MachineKind) {
    let made = Made::demo(name, kind);
    let slots = made.job.printer.slots as usize + 1;
    let (mut model, mut purged) = (vec![0.0; slots], Vec::new());
    let (mut slot, mut tower, mut layer) = (0, 0.0, 0);
    let mut order: Vec<(usize, u8)> = Vec::new();
    for step in made.steps() {
        match step {
            Step::Layer { index, .. } => {
                layer = index;
                tower = 0.0;
            }
            Step::Slot { slot: next } => {
                if slot != 0 {
                    purged.push(0.0);
                }
                slot = next;
                tower = 1.0;
            }
            Step::Lay {
                mm3,
                kind: BeadKind::Tower,
                ..
            } if tower > 0.0 => {
                *purged.last_mut().expect("after a swap") += mm3;
            }
            Step::Lay {
                kind: BeadKind::Tower | BeadKind::Skirt | BeadKind::Prime,
                ..
            } => {}
            Step::Lay { mm3, .. } => {
                model[slot as usize] += mm3;
                if order.last() != Some(&(layer, slot)) {
                    order.push((layer, slot));
                }
            }
            _ => {}
        }
    }
    let planned: Vec<(usize, u8)> = made
        .plan
        .layers
        .iter()
        .flat_map(|l| l.order.iter().map(|s| (l.index, *s)))
        .collect();
    assert_eq!(order, planned);
    for (slot, mm3) in model.iter().enumerate() {
        let of = |l: &varichrom_core::plan::PlanLayer| l.extruded_mm3.get(&(slot as u8)).copied();
        let by_plan: f64 = made.plan.layers.iter().filter_map(of).sum();
        assert!(
            (mm3 - by_plan).abs() < 0.035 * by_plan + 1.0,
            "{slot}: {mm3} for {by_plan}"
        );
    }
    assert_eq!(purged.len(), made.plan.swaps.len());
    for (laid, swap) in purged.iter().zip(&made.plan.swaps) {
        assert_relative_eq!(*laid, swap.split.tower_mm3, epsilon = 0.1);
    }
}

/// Changing, pressing out and heating are reckoned from the layers as the moves take them.
#[rstest]
#[case::rows_and_heat("Pier light", MachineKind::Feeder)]
#[case::from_standby("Pier light", MachineKind::Tools)]
#[case::wide_rows("Gull", MachineKind::Feeder)]
fn changes_take_as_long_as_they_were_planned(#[case] name: &str, #[case] kind: MachineKind) {
    let made = Made::demo(name, kind);
    let figures = &made.files().figures;
    for (of, most) in [(MovesOf::Swaps, 0.01), (MovesOf::Start, 1e-6)] {
        let found = figures.iter().find(|f| f.of == of).expect("a figure");
        assert_relative_eq!(
            found.planned.expect("planned"),
            found.moves,
            max_relative = most
        );
    }
}

/// Moves read from a text, by nothing but the words: every E, and every Z that anything is laid at.
fn read(text: &str) -> (f64, Vec<f64>) {
    let (mut sum, mut z, mut heights) = (0.0, 0.0, Vec::new());
    for line in text
        .lines()
        .filter(|l| l.starts_with("G0 ") || l.starts_with("G1 "))
    {
        let word = |letter: char| {
            let found = line.split(' ').find(|w| w.starts_with(letter))?;
            found[1..].parse::<f64>().ok()
        };
        z = word('Z').unwrap_or(z);
        if let Some(e) = word('E') {
            sum += e;
            if word('X').is_some() && heights.last() != Some(&z) {
                heights.push(z);
            }
        }
    }
    (sum, heights)
}

#[test]
fn words_feed_what_the_moves_lay_at_the_planned_heights_and_are_the_same_every_time() {
    let made = Made::demo("Pier light", MachineKind::Feeder);
    let files = made.files();
    let laid: f64 = made
        .steps()
        .iter()
        .map(|s| match s {
            Step::Lay { mm3, .. } | Step::Press { mm3, .. } => *mm3,
            _ => 0.0,
        })
        .sum();
    let (fed, heights) = read(&files.files[0].text);
    // All that was pulled was given back but for the last.
    let section = 0.25 * std::f64::consts::PI * 1.75 * 1.75;
    assert_relative_eq!(fed + 0.8, laid / section, epsilon = 1e-4);
    let tops: Vec<f64> = made
        .plan
        .layers
        .iter()
        .filter(|l| !l.order.is_empty())
        .map(|l| (1000.0 * l.z1_mm).round() / 1000.0)
        .collect();
    assert_eq!(heights, tops);
    let pool = rayon::ThreadPoolBuilder::new()
        .num_threads(1)
        .build()
        .expect("a pool");
    let again = pool.install(|| made.files_anew());
    assert!(
        again.files[0].text == files.files[0].text,
        "the same bytes from one thread"
    );
}

#[test]
fn a_pass_over_another_never_travels_below_what_stands() {
    let kind = MachineKind::ByHand {
        how: HandSwap::PassPerColour,
    };
    let made = Made::demo("Tide plaque", kind);
    let layers = job_beads(&made.job, &made.planner, &|_| true).expect("beads");
    let scripts = job_scripts(&made.job, &rack(), &made.plan, &layers).expect("sound");
    assert!(scripts.len() > 1);
    let mut standing: f64 = 0.0;
    for script in &scripts {
        let (mut z, mut top, mut at) = (0.0, standing, [0.0; 2]);
        for step in &script.steps {
            match step {
                Step::Height { to, .. } => z = *to,
                Step::Home { with_height } => assert!(standing == 0.0 || !with_height),
                Step::Lay { to, .. } => {
                    top = top.max(z);
                    at = *to;
                }
                Step::Travel { to, .. } => {
                    // From line to neighbouring line there is no room for anything that stands.
                    let length = (to[0] - at[0]).hypot(to[1] - at[1]);
                    assert!(z >= standing || length < 0.45, "at {z} of {standing}");
                    at = *to;
                }
                _ => {}
            }
        }
        standing = top;
    }
}

/// Solid all through.
fn laid(size: [f64; 3], skin: SkinFill) -> Vec<Vec<Bead>> {
    let (_, history) = job_of(&[("box", &stl(&box_mesh([0.0; 3], size), "box"))]);
    let mut job = history.job().clone();
    job.printer.infill = 1.0;
    job.printer.printing.skin = skin;
    let made = Made::of(job);
    let faces = made.planner.faces(&made.job.claims()).expect("surveyed");
    let layers = beads(&faces, &made.job.printer, &|_| true).expect("beads");
    let of = |l: &varichrom_core::paths::LayerBeads| {
        l.slots.iter().flat_map(|s| s.islands.concat()).collect()
    };
    layers.iter().map(of).collect()
}

proptest! {
    #![proptest_config(cases(12))]

    /// Walls thinner than two lines come out as a bead of their width, wider ones as lines of 0.6 to 1.6: with as much plastic
    /// as there is room.
    #[test]
    fn boxes_are_filled_whatever_their_width(wide in 0.26..9.0f64, long in 8.0..20.0f64) {
        for skin in [SkinFill::Rows, SkinFill::Contour] {
            let layers = laid([long, wide, 1.0], skin);
            for beads in &layers {
                let ground: f64 = beads.iter().map(Bead::ground_mm2).sum();
                let area = long * wide;
                prop_assert!((ground / area - 1.0).abs() < 0.08, "{wide}: {ground} of {area}");
                for joint in beads.iter().flat_map(|b| &b.line) {
                    prop_assert!((0.239..=0.641).contains(&joint.width), "{}", joint.width);
                    let inside = joint.at[0] > -1e-6 && joint.at[0] < long + 1e-6
                        && joint.at[1] > -1e-6 && joint.at[1] < wide + 1e-6;
                    prop_assert!(inside, "{:?}", joint.at);
                }
            }
        }
    }

    /// Shapes on the lattice: what is split adds up, and what is grown and shrunk again covers what was there.
    #[test]
    fn areas_split_and_open(x in -3.0..3.0f64, y in -3.0..3.0f64, r in 0.1..1.0f64) {
        let a = Area::rectangle([-4.0, -4.0], [4.0, 4.0]);
        let b = Area::rectangle([x, y], [x + 6.0, y + 2.0]);
        let (both, rest) = a.split(&b);
        prop_assert!((both.mm2() + rest.mm2() - 64.0).abs() < 1e-9 * 64.0);
        prop_assert!(both.minus(&b).mm2() < 1e-9);
        // Edges may move by two thousandths of a mm.
        prop_assert!(a.minus(&a.offset(r).offset(-r)).mm2() < 0.002 * a.edge_mm());
        prop_assert!(a.opened(r).minus(&a).mm2() < 1e-6);
    }
}

#[rstest]
#[case(SparseFill::Rows)]
#[case(SparseFill::Contour)]
#[case(SparseFill::Gyroid)]
fn sparse_inside_takes_its_share(#[case] sparse: SparseFill) {
    let (_, history) = job_of(&[("box", &stl(&box_mesh([0.0; 3], [40.0, 40.0, 10.0]), "box"))]);
    let mut job = history.job().clone();
    job.printer.printing.sparse = sparse;
    let made = Made::of(job);
    let faces = made.planner.faces(&made.job.claims()).expect("surveyed");
    let layers = beads(&faces, &made.job.printer, &|_| true).expect("beads");
    let inner = 38.4 * 38.4;
    for layer in &layers[10..40] {
        let ground: f64 = layer.slots[0].sparse.iter().map(Bead::ground_mm2).sum();
        assert_relative_eq!(ground / inner, 0.15, epsilon = 0.003);
        // Not by squeezing: lines are about as wide as the nozzle.
        for joint in layer.slots[0].sparse.iter().flat_map(|b| &b.line) {
            assert!((0.34..=0.46).contains(&joint.width), "{}", joint.width);
        }
    }
}

#[test]
fn no_move_is_faster_than_its_speed_and_standing_still_costs_ramps() {
    let made = Made::demo("Tide plaque", MachineKind::Feeder);
    let steps = made.steps();
    let (seconds, total) = pace(&steps, &made.job.printer);
    let mut at = [0.0; 2];
    let mut least = 0.0;
    for (step, time) in steps.iter().zip(&seconds) {
        let (to, speed) = match step {
            Step::Lay { to, speed, .. } | Step::Travel { to, speed } => (*to, *speed),
            _ => continue,
        };
        let length = (to[0] - at[0]).hypot(to[1] - at[1]);
        assert!(*time >= length / speed - 1e-9);
        least += length / speed;
        at = to;
    }
    assert!(total.moving_s > least);
    assert_relative_eq!(
        seconds.iter().sum::<f64>() + total.start_s,
        total.sum(),
        epsilon = 1e-6
    );
}

#[test]
fn what_would_not_print_is_refused_with_a_mend() {
    let (_, history) = job_of(&[("box", &stl(&box_mesh([0.0; 3], [40.0, 40.0, 10.0]), "box"))]);
    let mut job = history.job().clone();
    job.printer.bed_mm = [30.0, 30.0, 100.0];
    let made = Made::of(job);
    let refused = print_files(
        &made.job,
        &rack(),
        (&made.plan, &made.planner),
        ("print", None),
        &|_| true,
    );
    let problem = refused.expect_err("too large for the bed");
    assert!(!problem.mend.is_empty());
}

#[rstest]
#[case(|p: &mut Printing| p.travel_mm_s = f64::NAN)]
#[case(|p: &mut Printing| p.acceleration_mm_s2 = 0.0)]
#[case(|p: &mut Printing| p.retract_mm = -1.0)]
#[case(|p: &mut Printing| p.brim_lines = 1_000_000)]
#[case(|p: &mut Printing| p.seam = Seam::At { at: [0.0, f64::INFINITY] })]
#[case(|p: &mut Printing| p.pause_word = "M0\nM104 S300".into())]
fn printing_values_that_make_no_sense_are_refused(#[case] change: fn(&mut Printing)) {
    let mut printer = Printer::default();
    printer.check().expect("usual values are fine");
    change(&mut printer.printing);
    let problem = printer.check().expect_err("refused");
    assert!(!problem.mend.is_empty());
}

/// The plaque on a feeder, changed.
fn plaque(change: impl FnOnce(&mut Job)) -> Made {
    let mut job = demo("Tide plaque", MachineKind::Feeder);
    change(&mut job);
    Made::of(job)
}

#[test]
fn the_fan_goes_on_in_a_pass_that_begins_above_the_first_layer() {
    let kind = MachineKind::ByHand {
        how: HandSwap::PassPerColour,
    };
    let made = Made::demo("Tide plaque", kind);
    let layers = job_beads(&made.job, &made.planner, &|_| true).expect("beads");
    for script in job_scripts(&made.job, &rack(), &made.plan, &layers).expect("sound") {
        let blows = |s: &Step| matches!(s, Step::Fan { share } if *share > 0.0);
        assert!(script.steps.iter().any(blows), "{:?}", script.slot);
    }
}

#[test]
fn every_nozzle_that_was_heated_is_off_in_the_end() {
    let made = Made::demo("Tide plaque", MachineKind::Tools);
    let mut hot = std::collections::BTreeMap::new();
    for step in made.steps() {
        if let Step::Heat { tool, c, .. } = step {
            hot.insert(tool, c);
        }
    }
    assert!(hot.len() > 1);
    assert!(hot.values().all(|c| *c == 0.0), "{hot:?}");
}

#[rstest]
#[case::brim_over_the_edge(|j: &mut Job| { j.printer.bed_mm[0] = 81.0; j.printer.printing.brim_lines = 40; })]
#[case::fewer_places_than_colours(|j: &mut Job| j.printer.holds = 1)]
#[case::bin_below_the_print(|j: &mut Job| {
    j.rules.places.tower_share = 0.0;
    let size = j.bounds().size();
    j.printer.bed_mm = [size[0] + 2.0, size[1] + 2.0, 100.0];
})]
fn what_is_not_certain_is_refused(#[case] change: fn(&mut Job)) {
    let made = plaque(change);
    let beside = (&made.plan, &made.planner);
    let refused = print_files(&made.job, &rack(), beside, ("print", None), &|_| true);
    let problem = refused.expect_err("refused");
    assert!(!problem.mend.is_empty(), "{problem}");
}

#[test]
fn no_priming_line_under_a_print_that_reaches_the_front() {
    let block = stl(&box_mesh([0.0; 3], [100.0, 40.0, 4.0]), "box");
    let mut job = job_of(&[("box", &block)]).1.job().clone();
    job.printer.bed_mm = [160.0, 44.0, 100.0];
    let made = Made::of(job);
    let primes = |s: &Step| {
        matches!(
            s,
            Step::Lay {
                kind: BeadKind::Prime,
                ..
            }
        )
    };
    assert!(!made.steps().iter().any(primes));
}
