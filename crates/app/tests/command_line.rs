//! The binary as a maker runs it, and the examples of the documentation.

use rstest::rstest;
use serde_json::Value;
use std::path::{Path, PathBuf};
use std::process::{Command, Output};

fn examples() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../../docs/examples")
}

fn varichrom(arguments: &[&str]) -> Output {
    Command::new(env!("CARGO_BIN_EXE_varichrom"))
        .args(arguments)
        .current_dir(examples())
        .output()
        .expect("the binary starts")
}

fn json(arguments: &[&str]) -> Value {
    let out = varichrom(arguments);
    assert!(
        out.status.success(),
        "{}",
        String::from_utf8_lossy(&out.stderr)
    );
    serde_json::from_slice(&out.stdout).expect("JSON on standard output")
}

fn refusal(arguments: &[&str]) -> Value {
    let mut all = vec!["--json"];
    all.extend(arguments);
    let out = varichrom(&all);
    assert_eq!(out.status.code(), Some(1));
    assert!(out.stdout.is_empty());
    serde_json::from_slice(&out.stderr).expect("JSON on standard error")
}

/// Words of a command line with single quotes.
fn words(line: &str) -> Vec<String> {
    let pieces = line.split('\'').enumerate();
    pieces
        .flat_map(|(i, piece)| match i % 2 {
            0 => piece.split_whitespace().map(String::from).collect(),
            _ => vec![piece.to_string()],
        })
        .collect()
}

#[test]
fn every_command_in_the_documentation_prints_what_it_says() {
    let text = std::fs::read_to_string(examples().join("../command-line.md")).expect("the page");
    let mut found = 0;
    for block in text.split("```console\n").skip(1) {
        let block = block.split("```").next().expect("a closed block");
        let (command, expected) = block.split_once('\n').expect("a command and its output");
        let arguments = words(command.trim_start_matches("$ varichrom "));
        let arguments: Vec<&str> = arguments.iter().map(String::as_str).collect();
        let out = varichrom(&arguments);
        assert!(
            out.status.success(),
            "{command}: {}",
            String::from_utf8_lossy(&out.stderr)
        );
        assert_eq!(String::from_utf8_lossy(&out.stdout), expected, "{command}");
        found += 1;
    }
    assert!(found >= 5, "only {found} commands found");
}

#[test]
fn a_recipe_gives_a_plan_whose_figures_add_up() {
    let out = tempfile::tempdir().expect("a folder");
    let folder = out.path().to_str().expect("a path");
    let bill = json(&["--json", "run", "box-and-peg.json", "--out", folder]);
    let read = |name: &str| std::fs::read(out.path().join(name)).expect(name);
    let plan: Value = serde_json::from_slice(&read("plan.json")).expect("a plan");
    assert_eq!(plan["bill"], bill);
    let layers = plan["layers"].as_array().expect("layers");
    assert_eq!(
        (layers[0]["z0_mm"].as_f64(), layers[0]["z1_mm"].as_f64()),
        (Some(0.0), Some(0.24))
    );
    for layer in layers {
        let areas = layer["areas_mm2"].as_object().expect("areas by slot");
        let whole: f64 = areas.values().filter_map(Value::as_f64).sum();
        assert!(
            (whole - 500.0).abs() < 0.1,
            "box and peg cover 500 mm²: {layer}"
        );
        assert_eq!(layer["order"].as_array().map(Vec::len), Some(areas.len()));
    }
    // Soak 0.6 on layers of 0.2: below the lid's three layers the box is all chalk.
    let blue = |i: usize| layers[i]["areas_mm2"]["2"].as_f64().unwrap_or(0.0);
    let top = layers.len() - 1;
    assert!(blue(top - 2) > 400.0 && blue(top - 3) < 110.0);
    let csv = String::from_utf8(read("swaps.csv")).expect("text");
    let swaps = plan["swaps"].as_array().expect("swaps");
    assert_eq!(csv.lines().count(), 1 + swaps.len());
    assert_eq!(bill["swaps"].as_u64(), Some(swaps.len() as u64));
    // The same recipe gives the same bytes.
    let again = tempfile::tempdir().expect("a folder");
    varichrom(&[
        "run",
        "box-and-peg.json",
        "--out",
        again.path().to_str().expect("a path"),
    ]);
    for name in ["plan.json", "swaps.csv", "model.3mf", "parts.zip"] {
        assert!(
            read(name) == std::fs::read(again.path().join(name)).expect(name),
            "{name}"
        );
    }
}

#[test]
fn json_has_the_public_fields() {
    let rinse = json(&[
        "--json",
        "rinse",
        "--from",
        "#101010",
        "--to",
        "#f4f4f0",
        "--tolerance",
        "3",
    ]);
    assert_eq!(rinse["tolerance"], 3.0);
    let last = rinse["curve"]
        .as_array()
        .and_then(|c| c.last())
        .expect("a curve");
    for field in ["purged_mm3", "residual", "delta_e", "hex"] {
        assert!(!last[field].is_null(), "{field}");
    }
    let patches = json(&["--json", "patches", "box-and-peg.stl", "--crease", "30"]);
    let all = patches["patches"].as_array().expect("patches");
    assert_eq!(
        (all.len(), &patches["crease_deg"]),
        (12, &Value::from(30.0))
    );
    assert!(
        all.iter()
            .all(|p| p["facets"] == 2 && p["neighbours"].as_array().map(Vec::len) == Some(4))
    );
    let two = json(&["--json", "inspect", "box-and-peg.stl", "box-and-peg.stl"]);
    assert_eq!(two.as_array().map(Vec::len), Some(2));
}

#[rstest]
#[case(&["inspect", "missing.stl"], "file-unreadable")]
#[case(&["inspect", "box-and-peg.json"], "file-unknown")]
#[case(&["patches", "box-and-peg.stl", "--crease", "0"], "crease-out-of-range")]
#[case(&["rinse", "--from", "red", "--to", "#ffffff"], "colour-unreadable")]
#[case(&["rinse", "--from", "#000000", "--to", "#ffffff", "--tolerance", "0"], "value-out-of-range")]
#[case(&["rinse", "--from", "#000000", "--to", "#ffffff", "--printer", "box-and-peg.json"], "printer-unreadable")]
#[case(&["run", "box-and-peg.stl", "--out", "/nowhere"], "recipe-not-readable")]
#[case(&["bodies", "box-and-peg.stl", "--thickness", "1", "--out", "/nowhere"], "drawing-unknown")]
#[case(&["bodies", "pennant.svg", "--thickness", "0", "--out", "/nowhere"], "flatwork-range")]
#[case(&["bodies", "pennant.svg", "--thickness", "1", "--width", "99999", "--out", "/nowhere"], "drawing-size")]
#[case(&["bodies", "pennant.svg", "--thickness", "1", "--out", "/proc/nowhere"], "out-unwritable")]
fn what_is_wrong_is_said_as_json_with_exit_code_1(#[case] arguments: &[&str], #[case] code: &str) {
    let problem = refusal(arguments);
    assert_eq!(problem["code"], code, "{problem}");
    assert!(problem["mend"].as_str().is_some_and(|m| m.len() > 8));
}

#[rstest]
#[case::unknown_field(
    r#""edits": ["#,
    r#""flavour": 1, "edits": ["#,
    "recipe-not-readable",
    "line "
)]
#[case::off_the_mesh("[10, 10, 10]", "[10, 10, 12]", "place-off-the-mesh", "edit 5")]
#[case::unknown_region(
    r#""region": "lid", "soak_mm""#,
    r#""region": "top", "soak_mm""#,
    "region-unknown",
    "edit 4"
)]
#[case::missing_model("box-and-peg.stl", "nothing.stl", "file-unreadable", "edit 2")]
fn a_bad_recipe_names_the_place(
    #[case] from: &str,
    #[case] to: &str,
    #[case] code: &str,
    #[case] place: &str,
) {
    let folder = tempfile::tempdir().expect("a folder");
    let text = std::fs::read_to_string(examples().join("box-and-peg.json")).expect("the example");
    assert!(text.contains(from));
    let recipe = folder.path().join("recipe.json");
    std::fs::write(&recipe, text.replace(from, to)).expect("written");
    std::fs::copy(
        examples().join("box-and-peg.stl"),
        folder.path().join("box-and-peg.stl"),
    )
    .expect("copied");
    let out = folder.path().join("out");
    let paths = [
        recipe.to_str().expect("a path"),
        out.to_str().expect("a path"),
    ];
    let problem = refusal(&["run", paths[0], "--out", paths[1]]);
    assert_eq!(problem["code"], code, "{problem}");
    assert!(
        problem["where"].as_str().is_some_and(|w| w.contains(place)),
        "{problem}"
    );
    assert!(!out.exists(), "nothing is written after an error");
}

/// The first JSON block of a page of the documentation.
fn example_in(page: &str) -> Value {
    let text = std::fs::read_to_string(examples().join("..").join(page)).expect("the page");
    let block = text
        .split("```json\n")
        .nth(1)
        .and_then(|b| b.split("```").next());
    serde_json::from_str(block.expect("a JSON block")).expect("sound JSON")
}

#[test]
fn the_recipe_in_the_documentation_is_the_one_that_is_run() {
    let text = std::fs::read(examples().join("box-and-peg.json")).expect("the example");
    let file: Value = serde_json::from_slice(&text).expect("sound JSON");
    assert_eq!(example_in("recipes.md"), file);
}

#[test]
fn the_plan_in_the_documentation_has_the_fields_and_figures_of_the_real_one() {
    let out = tempfile::tempdir().expect("a folder");
    varichrom(&[
        "run",
        "box-and-peg.json",
        "--out",
        out.path().to_str().expect("a path"),
    ]);
    let bytes = std::fs::read(out.path().join("plan.json")).expect("a plan");
    let plan: Value = serde_json::from_slice(&bytes).expect("sound JSON");
    // The page shows the first layer and the first swap, rounded to the digits it prints.
    fn compare(shown: &Value, real: &Value, at: &str) {
        match (shown, real) {
            (Value::Object(a), Value::Object(b)) => {
                assert_eq!(
                    a.keys().collect::<Vec<_>>(),
                    b.keys().collect::<Vec<_>>(),
                    "{at}"
                );
                a.iter()
                    .for_each(|(k, v)| compare(v, &b[k], &format!("{at}.{k}")));
            }
            (Value::Array(a), Value::Array(b)) => {
                a.iter().zip(b).for_each(|(x, y)| compare(x, y, at));
            }
            (Value::Number(a), Value::Number(b)) => {
                let (a, b) = (a.as_f64().expect("finite"), b.as_f64().expect("finite"));
                assert!(
                    (a - b).abs() <= 0.006 * a.abs().max(1.0) + 0.05,
                    "{at}: {a} or {b}"
                );
            }
            _ => assert_eq!(shown, real, "{at}"),
        }
    }
    compare(&example_in("plan-format.md"), &plan, "plan");
}

#[test]
fn a_recipe_keeps_the_colours_of_an_obj_places_it_and_prints_several() {
    let folder = tempfile::tempdir().expect("a folder");
    let write =
        |name: &str, text: &str| std::fs::write(folder.path().join(name), text).expect("written");
    // Two blocks of 10 × 10 × 4 mm on each other: the lower is clay, the upper is glaze.
    let block = |name: &str, z: u32, first: u32| {
        let mut text = format!("o {name}\nusemtl {name}\n");
        for (dx, dy, dz) in [
            (0, 0, 0),
            (10, 0, 0),
            (10, 10, 0),
            (0, 10, 0),
            (0, 0, 4),
            (10, 0, 4),
            (10, 10, 4),
            (0, 10, 4),
        ] {
            text += &format!("v {dx} {dy} {}\n", z + dz);
        }
        for [a, b, c, d] in [
            [1, 4, 3, 2],
            [5, 6, 7, 8],
            [1, 2, 6, 5],
            [2, 3, 7, 6],
            [3, 4, 8, 7],
            [4, 1, 5, 8],
        ] {
            text += &format!(
                "f {} {} {} {}\n",
                a + first,
                b + first,
                c + first,
                d + first
            );
        }
        text
    };
    write(
        "pot.obj",
        &format!(
            "mtllib pot.mtl\n{}{}",
            block("clay", 0, 0),
            block("glaze", 4, 8)
        ),
    );
    write(
        "pot.mtl",
        "newmtl clay\nKd 0.7 0.3 0.2\nnewmtl glaze\nKd 0.1 0.3 0.6\n",
    );
    let inspected = json(&[
        "--json",
        "inspect",
        folder.path().join("pot.obj").to_str().expect("a path"),
    ]);
    assert_eq!(
        (&inspected["format"], &inspected["colours"]),
        (&Value::from("OBJ"), &Value::from(2))
    );
    assert_eq!(inspected["parts"][1]["name"], "glaze");
    write(
        "recipe.json",
        r#"{ "name": "Pots", "models": [{ "model": "pot", "file": "pot.obj" }], "edits": [
            { "edit": "keep-colours", "model": "pot", "most": 4 },
            { "edit": "place", "target": { "of": "everything" }, "placing": { "how": "size", "axis": "x", "mm": 20, "alone": true } },
            { "edit": "set-copies", "across": 3, "along": 1, "spacing_mm": 4 }
        ] }"#,
    );
    let out = folder.path().join("out");
    let paths = [folder.path().join("recipe.json"), out.clone()];
    let [recipe, to] = paths.each_ref().map(|p| p.to_str().expect("a path"));
    let bill = json(&["--json", "run", recipe, "--out", to]);
    // One change of colour at 4 mm, for all three pieces.
    assert_eq!(bill["swaps"], 1);
    let plan = std::fs::read(out.join("plan.json")).expect("a plan");
    let plan: Value = serde_json::from_slice(&plan).expect("JSON");
    let layers = plan["layers"].as_array().expect("layers");
    assert_eq!(layers.len(), 40);
    // Shares of cells are kept in 32 bits. 3 pieces of 20 × 10 mm in every layer, in one slot below and in another above.
    let areas: Vec<f64> = layers
        .iter()
        .map(|l| {
            l["areas_mm2"]
                .as_object()
                .expect("areas")
                .values()
                .filter_map(Value::as_f64)
                .sum()
        })
        .collect();
    assert!(areas.iter().all(|a| (a - 600.0).abs() < 1e-3), "{areas:?}");
    assert_ne!(layers[0]["order"], layers[39]["order"]);
}

/// Unpacking takes a gigabyte at most, whatever an archive holds: measured by a bound on the memory of the process.
#[cfg(target_os = "linux")]
#[test]
fn archives_that_unpack_to_more_than_a_gigabyte_do_not_take_it() {
    use std::io::Write;
    // Three gigabytes of addresses; the six files unpack to a gigabyte and a half, and used to take seven.
    const MOST_KIB: u64 = 3 << 20;
    let folder = tempfile::tempdir().expect("a folder");
    let file = folder.path().join("box.zip");
    let mut archive = zip::ZipWriter::new(std::fs::File::create(&file).expect("a file"));
    let options = zip::write::SimpleFileOptions::default();
    archive.start_file("box.obj", options).expect("room");
    let names = (0..6).map(|n| format!("{n}.mtl"));
    let libraries: String = names.clone().map(|n| format!("mtllib {n}\n")).collect();
    archive
        .write_all(format!("{libraries}v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n").as_bytes())
        .expect("room");
    let spaces = vec![b' '; 1 << 20];
    for name in names {
        archive.start_file(name, options).expect("room");
        for _ in 0..250 {
            archive.write_all(&spaces).expect("room");
        }
    }
    archive.finish().expect("room");
    let bounded = format!("ulimit -v {MOST_KIB}; exec \"$0\" --json inspect \"$1\"");
    let run = |file: &std::path::Path| {
        Command::new("sh")
            .args(["-c", &bounded, env!("CARGO_BIN_EXE_varichrom")])
            .arg(file)
            .env("RAYON_NUM_THREADS", "2")
            .output()
            .expect("a shell")
    };
    let out = run(&file);
    assert_eq!(out.status.code(), Some(1), "{out:?}");
    let refused: Value = serde_json::from_slice(&out.stderr).expect("a refusal");
    assert_eq!(refused["code"], "zip-unpacks-too-large");
    // The bound is one under which the program runs.
    let sound = folder.path().join("sound.obj");
    std::fs::write(&sound, "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n").expect("a file");
    assert!(run(&sound).status.success());
}

#[test]
fn a_recipe_comes_from_standard_input_and_ends_with_its_mark() {
    use std::io::Write;
    use std::process::Stdio;
    let folder = tempfile::tempdir().expect("a folder");
    let out = folder.path().join("results");
    let recipe = std::fs::read(examples().join("box-and-peg.json")).expect("the example");
    let run = |recipe: &[u8]| {
        let mut child = Command::new(env!("CARGO_BIN_EXE_varichrom"))
            .args(["--json", "run", "-", "--out", out.to_str().expect("a path")])
            .current_dir(examples())
            .stdin(Stdio::piped())
            .stdout(Stdio::piped())
            .stderr(Stdio::piped())
            .spawn()
            .expect("the binary starts");
        let mut input = child.stdin.take().expect("its input");
        input.write_all(recipe).expect("written");
        drop(input);
        child.wait_with_output().expect("it ends")
    };
    assert!(run(&recipe).status.success());
    let mark = std::fs::read(out.join("done.json")).expect("the mark");
    let mark: Value = serde_json::from_slice(&mark).expect("JSON");
    for file in mark["files"].as_array().expect("a list") {
        let name = file.as_str().expect("a name");
        assert!(out.join(name).is_file(), "{name}");
    }
    // What is refused leaves what was there, with its mark.
    assert_eq!(run(b"{}").status.code(), Some(1));
    assert!(out.join("done.json").is_file());
}

#[test]
fn a_folder_is_copied_brought_back_and_looked_over() {
    let folder = tempfile::tempdir().expect("a folder");
    let path = |name: &str| folder.path().join(name).to_string_lossy().into_owned();
    let [data, copy, text] = ["data", "copy.sqlite", "text.sqlite"].map(path);
    let problem = refusal(&["backup", &copy, "--data", &data]);
    assert_eq!(problem["code"], "cannot-serve");
    assert!(
        varichrom(&["demo", "--no-serve", "--data", &data])
            .status
            .success()
    );
    assert!(
        varichrom(&["backup", &copy, "--data", &data])
            .status
            .success()
    );
    std::fs::write(&text, "no database").expect("written");
    refusal(&["restore", &text, "--data", &data]);
    assert!(
        varichrom(&["restore", &copy, "--data", &data])
            .status
            .success()
    );
    assert_eq!(
        json(&["--json", "doctor", "--data", &data])["found"],
        serde_json::json!([])
    );
}
