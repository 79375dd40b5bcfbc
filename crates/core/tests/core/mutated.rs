//! Files that are nearly sound: bytes, words and numbers of good ones changed at random and given to their readers. Whatever comes of
//! it, nothing panics, nothing takes long, and a refusal says what is the matter and what to do. `cargo xtask fuzz` goes on for as
//! long as it is told.

use crate::jobs_of::open_model;
use crate::sample_files::{CUBE, TWO_OBJECTS, in_every_format, vrml_square};
use std::collections::BTreeMap;
use std::io::Write;
use std::panic::{AssertUnwindSafe, catch_unwind};
use std::time::{Duration, Instant};
use varichrom_core::Problem;
use varichrom_core::advice::load::PrinterReport;
use varichrom_core::drawing::{DrawingOptions, read_drawing};
use varichrom_core::formats::{PROJECT_LIST, unzip_files};
use varichrom_core::gcode::{Allowed, Standing, check_written, sliced};
use varichrom_core::job::{Edit, Project, Recipe};
use varichrom_core::machine::{Printer, rack_from_csv, rack_from_json, rack_to_csv, rack_to_json};
use varichrom_core::model::OpenMesh;
use varichrom_demo::{box_mesh, printer_report, rack, together};

/// Chances that are the same wherever they begin at the same number (SplitMix64: Steele, Lea, Flood 2014).
struct Chance(u64);

impl Chance {
    fn next(&mut self) -> u64 {
        self.0 = self.0.wrapping_add(0x9e37_79b9_7f4a_7c15);
        let mut z = self.0;
        z = (z ^ (z >> 30)).wrapping_mul(0xbf58_476d_1ce4_e5b9);
        z = (z ^ (z >> 27)).wrapping_mul(0x94d0_49bb_1331_11eb);
        z ^ (z >> 31)
    }

    fn below(&mut self, end: usize) -> usize {
        (self.next() % end.max(1) as u64) as usize
    }
}

/// Numbers and words that readers stumble over.
const WORDS: [&str; 20] = [
    "0",
    "-0",
    "-1",
    "1e308",
    "-1e308",
    "1e-320",
    "nan",
    "inf",
    "4294967296",
    "18446744073709551616",
    "65535",
    "",
    "\"",
    "<",
    "/",
    "\u{fffd}",
    "\r",
    "[[[[",
    "{\"a\":",
    "null",
];

/// Changes a file in one to six places.
fn mutated(chance: &mut Chance, file: &[u8], other: &[u8]) -> Vec<u8> {
    let mut bytes = file.to_vec();
    for _ in 0..=chance.below(5) {
        let at = chance.below(bytes.len());
        let size = chance.below(8);
        let length = 1 + chance.below(1 << size);
        let end = (at + length).min(bytes.len());
        match chance.below(9) {
            0 if !bytes.is_empty() => bytes[at] ^= 1 << chance.below(8),
            1 if !bytes.is_empty() => bytes[at] = chance.next() as u8,
            2 => drop(bytes.drain(at..end)),
            3 => {
                let again = bytes[at..end].to_vec();
                bytes.splice(at..at, again);
            }
            4 => bytes.truncate(at),
            5 => {
                let from = chance.below(other.len());
                let part = &other[from..(from + length).min(other.len())];
                bytes.splice(at..end, part.iter().copied());
            }
            6 => {
                let number =
                    [0u32, 1, u32::MAX, 1 << 31, 0x7f80_0000, 0x7fc0_0000][chance.below(6)];
                for (b, n) in bytes[at..].iter_mut().zip(number.to_le_bytes()) {
                    *b = n;
                }
            }
            // A number, or whatever stands between spaces and marks, becomes another.
            _ => {
                let is_word = |b: &u8| b.is_ascii_alphanumeric() || b"+-.".contains(b);
                let from = bytes[..at].iter().rposition(|b| !is_word(b));
                let from = from.map_or(0, |f| f + 1);
                let to = bytes[at..].iter().position(|b| !is_word(b));
                let to = to.map_or(bytes.len(), |t| at + t);
                bytes.splice(from..to, WORDS[chance.below(WORDS.len())].bytes());
            }
        }
    }
    bytes
}

/// An archive of one file as told, so that what is changed is not caught by the sums of the ZIP.
fn packed(name: &str, bytes: &[u8]) -> Vec<u8> {
    let mut archive = zip::ZipWriter::new(std::io::Cursor::new(Vec::new()));
    let options = zip::write::SimpleFileOptions::default();
    archive.start_file(name, options).expect("room");
    archive.write_all(bytes).expect("room");
    archive.finish().expect("room").into_inner()
}

type Reader = fn(&[u8]) -> Result<(), Problem>;

fn models(bytes: &[u8]) -> Result<(), Problem> {
    let open = OpenMesh::from_bytes(bytes)?;
    let vertices = &open.mesh.vertices;
    let is_one = |v: &u32| (*v as usize) < vertices.len();
    assert!(open.mesh.facets.iter().flatten().all(is_one));
    assert!(vertices.iter().flatten().all(|c| c.is_finite()));
    if let Some(colours) = &open.origin.colours {
        assert_eq!(colours.facets.len(), open.mesh.facets.len());
    }
    Ok(())
}

fn packed_models(bytes: &[u8]) -> Result<(), Problem> {
    models(&packed("3D/3dmodel.model", bytes))
}

fn projects(bytes: &[u8]) -> Result<(), Problem> {
    Project::from_zip(bytes).map(drop)
}

fn packed_projects(bytes: &[u8]) -> Result<(), Problem> {
    let project = Project::from_zip(&packed(PROJECT_LIST, bytes))?;
    // What is read is written and read again as the same.
    assert_eq!(Project::from_zip(&project.to_zip()?)?, project);
    Ok(())
}

fn print_files(bytes: &[u8]) -> Result<(), Problem> {
    let printer = Printer::default();
    let text = String::from_utf8_lossy(bytes);
    let allowed = Allowed {
        printer: &printer,
        hottest_c: 260.0,
    };
    let looked = check_written(&text, &allowed, &mut Standing::default());
    let file = sliced(&text, 2.4, &printer)?;
    let _ = file.summary(2.4, &printer);
    looked
}

fn drawings(bytes: &[u8]) -> Result<(), Problem> {
    read_drawing(bytes, &DrawingOptions::default(), &|_| true).map(drop)
}

fn recipes(bytes: &[u8]) -> Result<(), Problem> {
    Recipe::from_json(bytes).map(drop)
}

fn reports(bytes: &[u8]) -> Result<(), Problem> {
    PrinterReport::from_json(bytes).map(drop)
}

fn racks(bytes: &[u8]) -> Result<(), Problem> {
    rack_from_json(bytes)
        .or_else(|_| rack_from_csv(bytes))
        .map(drop)
}

/// Every reader with good files for it.
fn corpus() -> Vec<(&'static str, Reader, Vec<Vec<u8>>)> {
    let mesh = together(&[
        box_mesh([0.0; 3], [4.0; 3]),
        box_mesh([4.0, 4.0, 0.0], [8.0; 3]),
    ]);
    let mut meshes: Vec<Vec<u8>> = in_every_format(&mesh).into_iter().map(|f| f.1).collect();
    meshes.push(TWO_OBJECTS.into());
    meshes.push(vrml_square(
        "color Color { color [1 0 0, 0 1 0] } colorIndex [1 1 1 -1 0 0 0 -1]",
    ));
    let model = format!(
        r##"<model unit="millimeter" xmlns="http://schemas.microsoft.com/3dmanufacturing/core/2015/02"><resources><basematerials id="9"><base name="a" displaycolor="#ff0000"/></basematerials><object id="1" pid="9" pindex="0">{CUBE}</object><object id="2"><components><component objectid="1" transform="1 0 0 0 1 0 0 0 1 5 0 0"/></components></object></resources><build><item objectid="2"/></build></model>"##
    );
    let mut picture = std::io::Cursor::new(Vec::new());
    image::RgbImage::from_fn(24, 16, |x, y| {
        image::Rgb([(9 * x) as u8, (13 * y) as u8, 90])
    })
    .write_to(&mut picture, image::ImageFormat::Png)
    .expect("room");
    let recipe: &[u8] = include_bytes!("../../../../docs/examples/box-and-peg.json");
    let pennant: &[u8] = include_bytes!("../../../../docs/examples/pennant.svg");
    let squares: &[u8] = include_bytes!("../../../../docs/examples/two-squares.gcode");
    let words = b"G20\nG91\nG1 X1 Y1 E0.1 F1800\nG2 X10 Y0 I5 J0 E1\nG3 X0 Y0 R5 E1\nG92 E0\nM82\nG10\nG11\nT1\nM600\nM117 go\n";
    let made = Recipe::from_json(recipe).expect("ours");
    let whole = Project {
        floor: 1,
        spools: rack(),
        contents: BTreeMap::from([("it".to_string(), b"solid".to_vec())]),
        edits: std::iter::once(open_model("it"))
            .chain(made.edits.clone())
            .collect(),
    };
    let no_models = Project {
        edits: made.edits,
        contents: BTreeMap::new(),
        ..whole.clone()
    };
    let list = unzip_files(&no_models.to_zip().expect("room"), &|_| true).expect("ours");
    vec![
        ("models", models as Reader, meshes),
        ("projects", projects, vec![whole.to_zip().expect("room")]),
        (
            "projects' lists",
            packed_projects,
            list.into_values().collect(),
        ),
        ("models in a 3MF", packed_models, vec![model.into_bytes()]),
        (
            "print files",
            print_files,
            vec![squares.to_vec(), words.to_vec()],
        ),
        (
            "drawings",
            drawings,
            vec![pennant.to_vec(), picture.into_inner()],
        ),
        ("recipes", recipes, vec![recipe.to_vec()]),
        (
            "printers' reports",
            reports,
            vec![serde_json::to_vec(&printer_report()).expect("text")],
        ),
        (
            "racks",
            racks,
            vec![
                rack_to_csv(&rack()).into_bytes(),
                rack_to_json(&rack()).into_bytes(),
            ],
        ),
    ]
}

/// Gives changed files to all readers in turn; `go_on` is asked before each with how many there were. Returns how many, and the
/// longest that one took, with its reader.
fn tried(seed: u64, go_on: impl Fn(u64) -> bool) -> (u64, Duration, &'static str) {
    let corpus = corpus();
    let all: Vec<&Vec<u8>> = corpus.iter().flat_map(|c| &c.2).collect();
    let (mut count, mut longest, mut of) = (0, Duration::ZERO, "");
    while go_on(count) {
        let mut chance = Chance(seed.wrapping_add(count));
        let (name, reader, good) = &corpus[(count % corpus.len() as u64) as usize];
        let file = &good[chance.below(good.len())];
        let other = all[chance.below(all.len())];
        let bytes = mutated(&mut chance, file, other);
        let began = Instant::now();
        let found = catch_unwind(AssertUnwindSafe(|| reader(&bytes)));
        let took = began.elapsed();
        if took > longest {
            (longest, of) = (took, name);
        }
        match found {
            Ok(Ok(())) => {}
            Ok(Err(problem)) => {
                let is_said = [&problem.code, &problem.message, &problem.mend];
                assert!(
                    is_said.iter().all(|s| !s.is_empty()),
                    "{name}, {}: {problem:?}",
                    seed + count
                );
            }
            Err(_) => panic!(
                "{name} panics at {}: {:?}",
                seed + count,
                String::from_utf8_lossy(&bytes)
            ),
        }
        count += 1;
    }
    (count, longest, of)
}

#[test]
fn changed_files_are_opened_or_refused_and_nothing_else() {
    let told = |name: &str| std::env::var(name).ok().and_then(|v| v.parse::<u64>().ok());
    let seed = told("VARICHROM_FUZZ_FROM").unwrap_or(0);
    let (count, longest, of) = match told("VARICHROM_FUZZ_S") {
        Some(seconds) => {
            let began = Instant::now();
            tried(seed, |_| began.elapsed().as_secs() < seconds)
        }
        None => tried(seed, |count| count < 5_400),
    };
    println!(
        "{count} changed files from {seed} on, none broke a reader; the longest took {longest:.1?}, {of}"
    );
    assert!(count > 0);
}

#[test]
fn edits_that_are_nearly_edits_are_told_apart() {
    let recipe: &[u8] = include_bytes!("../../../../docs/examples/box-and-peg.json");
    let recipe = Recipe::from_json(recipe).expect("ours");
    let edits: Vec<Vec<u8>> = (recipe.edits.iter())
        .map(|e| serde_json::to_vec(e).expect("text"))
        .collect();
    let (mut chance, mut read) = (Chance(7), 0);
    for _ in 0..4_000 {
        let edit = chance.below(edits.len());
        let bytes = mutated(&mut chance, &edits[edit], &edits[0]);
        if let Ok(edit) = serde_json::from_slice::<Edit>(&bytes) {
            // What is read is written and read again as the same.
            let again = serde_json::to_vec(&edit).expect("text");
            assert_eq!(serde_json::from_slice::<Edit>(&again).expect("ours"), edit);
            read += 1;
        }
    }
    assert!(read > 40, "{read}");
}
