//! What a line of a print file tells, whoever wrote it.

use approx::assert_relative_eq;
use rstest::rstest;
use std::f64::consts::TAU;
use varichrom_core::gcode::{Told, read};

fn told(text: &str) -> Vec<Told> {
    let lines = read(text).expect("sound");
    lines.into_iter().map(|l| l.told).collect()
}

#[test]
fn other_programs_ways_to_write_are_read() {
    let text = "g21\nN10 G90 *33\nM82 ; absolute\nG92 E0\nG1 X10Y20 E1.5 F600\nG1 X11 (aside) E2\nG91\nG1 Z.3\nG90\nM82\nG20\nG0 X1\n\
                M117 Go on; do\nM104 T1 S210\nT2\nG28 X Y\nM106 S127.5\n";
    let told: Vec<Told> = read(text)
        .expect("sound")
        .into_iter()
        .map(|l| l.told)
        .collect();
    let moves: Vec<([f64; 3], f64, f64)> = told
        .iter()
        .filter_map(|t| match t {
            Told::Move {
                to, feed_mm, speed, ..
            } => Some((*to, *feed_mm, *speed)),
            _ => None,
        })
        .collect();
    assert_eq!(
        moves,
        [
            ([10.0, 20.0, 0.0], 1.5, 10.0),
            ([11.0, 20.0, 0.0], 0.5, 10.0),
            ([11.0, 20.0, 0.3], 0.0, 10.0),
            ([25.4, 20.0, 0.3], 0.0, 10.0),
        ]
    );
    assert!(told.contains(&Told::Say("Go on".into())));
    assert!(told.contains(&Told::Select(2)));
    assert!(told.contains(&Told::Home([true, true, false])));
    assert!(told.contains(&Told::Fan(0.5)));
    for (text, line) in [
        ("G1 X", "line 1"),
        ("G21\nG1 X1 X2", "line 2"),
        ("G1 X1.2.3", "line 1"),
    ] {
        assert_eq!(
            read(text).expect_err("no").place.as_deref(),
            Some(line),
            "{text}"
        );
    }
}

#[test]
fn lines_of_several_codes_and_lines_without_one_are_read_as_the_standard_means_them() {
    // RS-274: a way of going stays until another is told; codes of one line share its places.
    let text = "%\nG21 G90 G94\nM83\nG1 X1 Y2 E1 F600\nX3 E1\nG91 X1\nG90 G0 Z5 F1200\nY7\nT1 G1 X9\nM104 S200 T0\nF60\nX10 E1\nG3 X10 Y9 I0 J1\nM6 T2\nO100\n%\n";
    let lines = read(text).expect("sound");
    let ends: Vec<([f64; 3], f64)> = lines
        .iter()
        .filter_map(|l| match l.told {
            Told::Move { to, speed, .. } => Some((to, speed)),
            _ => None,
        })
        .collect();
    let straight = [
        ([1.0, 2.0, 0.0], 10.0),
        ([3.0, 2.0, 0.0], 10.0),
        ([4.0, 2.0, 0.0], 10.0),
        ([4.0, 2.0, 5.0], 20.0),
        ([4.0, 7.0, 5.0], 20.0),
        ([9.0, 7.0, 5.0], 20.0),
        ([10.0, 7.0, 5.0], 1.0),
    ];
    assert_eq!(ends[..7], straight);
    let (end, _) = ends.last().expect("an arc");
    assert_eq!(*end, [10.0, 9.0, 5.0]);
    let tools: Vec<u32> = lines
        .iter()
        .filter_map(|l| match l.told {
            Told::Select(tool) => Some(tool),
            _ => None,
        })
        .collect();
    assert_eq!(tools, [1, 2]);
    let heat = Told::Heat {
        tool: Some(0),
        c: 200.0,
        waits: false,
    };
    assert!(lines.iter().any(|l| l.told == heat));
    assert!(lines.iter().any(|l| l.told == Told::Other("O100".into())));
    assert_eq!(
        read("X5\n").expect_err("how?").place.as_deref(),
        Some("line 1")
    );
}

#[test]
fn arcs_are_as_long_as_circles_and_end_where_they_say() {
    let length = |text: &str| -> (f64, f64, [f64; 3]) {
        let mut sum = (0.0, 0.0, [0.0; 3]);
        for t in told(text) {
            if let Told::Move {
                from, to, feed_mm, ..
            } = t
            {
                sum.0 += (to[0] - from[0]).hypot(to[1] - from[1]);
                sum.1 += feed_mm;
                sum.2 = to;
            }
        }
        sum
    };
    let head = "G90\nM83\nG0 X10 Y0 Z1\n";
    for (arc, turn, end) in [
        ("G3 X0 Y10 I-10 J0 E5", 0.25, [0.0, 10.0, 1.0]),
        ("G2 X0 Y10 I-10 J0 E5", 0.75, [0.0, 10.0, 1.0]),
        ("G3 X0 Y10 R10 E5", 0.25, [0.0, 10.0, 1.0]),
        ("G3 X0 Y10 R-10 E5", 0.75, [0.0, 10.0, 1.0]),
        ("G2 X0 Y10 R10 E5", 0.25, [0.0, 10.0, 1.0]),
        ("G2 I-10 E5 Z3", 1.0, [10.0, 0.0, 3.0]),
    ] {
        let (long, fed, to) = length(&format!("{head}{arc}\n"));
        assert_relative_eq!(long - 10.0, turn * TAU * 10.0, max_relative = 1e-3);
        assert_relative_eq!(fed, 5.0, epsilon = 1e-9);
        assert_eq!(to, end, "{arc}");
    }
    for wrong in [
        "G2 X3 Y3",
        "G2 X30 Y30 I1 J0",
        "G3 X0 Y10 R2",
        "G2 X10 Y0 R5",
    ] {
        let refused = read(&format!("{head}{wrong}\n")).expect_err("no arc");
        assert_eq!(refused.place.as_deref(), Some("line 4"), "{wrong}");
    }
}

#[rstest]
#[case("G1 X1\0", "gcode-binary")]
#[case("G1 X99999999999", "gcode-unreadable")]
#[case("G1 X12.3 Y", "gcode-unreadable")]
#[case("PK\u{3}\u{4}\0\0", "gcode-binary")]
fn what_is_no_print_file_is_refused(#[case] text: &str, #[case] code: &str) {
    assert_eq!(read(text).expect_err("no").code, code);
}
