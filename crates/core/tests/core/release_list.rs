//! What is looked at before a job prints: the sheet on the bed, and the bin that purge is pressed into.

use crate::print_paths::Made;
use rstest::rstest;
use varichrom_core::advice::CheckedPlan;
use varichrom_core::advice::load::{Level, PrinterReport};
use varichrom_core::handover::{Known, ReleaseCheck, release_checks};
use varichrom_core::job::Job;
use varichrom_core::machine::MachineKind;
use varichrom_demo::printer_report;

fn looked_at(job: &Job, plan: &CheckedPlan, report: Option<&PrinterReport>) -> Vec<ReleaseCheck> {
    release_checks(&Known {
        job,
        plan: Some(plan),
        load: &[],
        needs: &[],
        names: &[],
        print: None,
        report,
        rehearsed: None,
    })
}

#[rstest]
#[case::any_will_do("", Some("smooth"), None)]
#[case::the_same("Smooth ", Some("smooth"), Some(("sheet-right", Level::Fine)))]
#[case::another("textured", Some("smooth"), Some(("sheet-differs", Level::Wrong)))]
#[case::not_said("textured", None, Some(("sheet-unknown", Level::Look)))]
#[case::said_as_nothing("textured", Some(" "), Some(("sheet-unknown", Level::Look)))]
fn the_sheet_on_the_bed_is_compared(
    #[case] wanted: &str,
    #[case] lies: Option<&str>,
    #[case] due: Option<(&str, Level)>,
) {
    let made = Made::demo("Tide plaque", MachineKind::Feeder);
    let mut job = made.job.clone();
    job.printer.sheet = wanted.into();
    let report = PrinterReport {
        sheet: lies.map(Into::into),
        ..printer_report()
    };
    let found = looked_at(&job, &made.plan, Some(&report));
    let sheet = found.iter().find(|c| c.code.starts_with("sheet-"));
    assert_eq!(sheet.map(|c| (c.code, c.level)), due);
    // A printer that was not asked: the maker is told what to look for.
    let unasked = looked_at(&job, &made.plan, None);
    let unasked = unasked.iter().find(|c| c.code == "printer-unasked");
    let detail = &unasked.expect("said").detail;
    assert_eq!(detail.contains("sheet:"), !wanted.is_empty(), "{detail}");
}

#[rstest]
#[case::nobody_knows(0.0, Level::Look, None)]
#[case::room_for_all(1000.0, Level::Fine, None)]
// Ten swaps of 100 mm³ are 10 cm³ loose: the fourth is over 3.5 cm³.
#[case::full_on_the_way(3.5, Level::Look, Some(3))]
fn where_the_bin_is_full_is_said(
    #[case] holds_cm3: f64,
    #[case] level: Level,
    #[case] swap: Option<usize>,
) {
    let made = Made::demo("Pier light, souvenir size", MachineKind::Feeder);
    let (mut job, mut plan) = (made.job.clone(), made.plan.clone());
    job.printer.bin_cm3 = holds_cm3;
    for (n, s) in plan.plan.swaps.iter_mut().enumerate() {
        s.split.bin_mm3 = if n < 10 { 100.0 } else { 0.0 };
    }
    let found = looked_at(&job, &plan, None);
    let bin = found.iter().find(|c| c.code == "bin").expect("said");
    assert_eq!(bin.level, level, "{bin:?}");
    assert_eq!(bin.layer, swap.map(|n| plan.plan.swaps[n].layer));
    assert!(bin.message.starts_with("1.0 cm³"), "{}", bin.message);
}
