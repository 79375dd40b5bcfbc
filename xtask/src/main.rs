//! Project commands: `cargo xtask demo | test | laws | fuzz | check | bench | shots | types`.
//!
//! Each sets up what it needs and does nothing twice: what is installed and built is looked at first.

mod arrows;
mod front_end;
mod licences;
mod run;
mod tools;

use anyhow::Result;
use clap::{Parser, Subcommand};
use run::{cargo, root};

#[derive(Parser)]
#[command(about = "Varichrom's project commands")]
struct Cli {
    #[command(subcommand)]
    task: Task,
}

#[derive(Subcommand)]
enum Task {
    /// Build everything, make the demo data and serve it.
    Demo {
        /// Port to listen on.
        #[arg(long, default_value_t = 7360)]
        port: u16,
        /// Folder for the demo's database.
        #[arg(long, default_value = "demo-data")]
        data: String,
        /// Prepare and exit.
        #[arg(long)]
        no_serve: bool,
    },
    /// All checks and all tests, the browser's included.
    Test,
    /// The tests of the core with other chances than `test` takes, and its laws tried many times as often.
    Laws {
        /// How many times as often.
        #[arg(long, default_value_t = 20)]
        times: u32,
    },
    /// Good files changed at random, given to all readers for so long; it says how many, and where to begin to see one again.
    Fuzz {
        /// For how long.
        #[arg(long, default_value_t = 10)]
        minutes: u64,
        /// With which change it begins.
        #[arg(long)]
        from: Option<u64>,
    },
    /// The checks alone: arrows, licences, format, clippy, types, TypeScript, lint.
    Check,
    /// Print the figures of docs/performance.md.
    Bench,
    /// Take the pictures of docs/screenshots.
    Shots,
    /// Generate the TypeScript of the wire types.
    Types,
}

fn main() -> Result<()> {
    match Cli::parse().task {
        Task::Demo {
            port,
            data,
            no_serve,
        } => demo(port, &data, no_serve),
        Task::Test => test(),
        Task::Laws { times } => laws(times),
        Task::Fuzz { minutes, from } => fuzz(minutes, from),
        Task::Check => check(),
        Task::Bench => bench(),
        Task::Shots => shots(),
        Task::Types => front_end::generate_types(&root().join("web/src/api/generated")),
    }
}

fn demo(port: u16, data: &str, no_serve: bool) -> Result<()> {
    front_end::build()?;
    cargo(&["build", "--release", "--package", "varichrom"])?;
    let binary = root().join("target/release/varichrom");
    let mut command = std::process::Command::new(binary);
    command.args(["demo", "--data", data, "--port", &port.to_string()]);
    if no_serve {
        command.arg("--no-serve");
    }
    run::run(&mut command)
}

/// Builds all tests and programs. The whole workspace, always: other selections unify features differently and build it all
/// anew. The examples are left to `bench`.
pub(crate) const BUILT: [&str; 5] = ["test", "--workspace", "--bins", "--tests", "--no-run"];

fn check() -> Result<()> {
    arrows::check()?;
    licences::check()?;
    front_end::build()?;
    cargo(&["fmt", "--all", "--check"])?;
    cargo(&[
        "clippy",
        "--workspace",
        "--all-targets",
        "--",
        "-D",
        "warnings",
    ])?;
    front_end::check_types()?;
    front_end::check()
}

fn test() -> Result<()> {
    let mut clock = Clock::new();
    tools::browser()?;
    let python = tools::python_with_lib3mf()?;
    clock.part("what tests are run with");
    check()?;
    clock.part("checks");
    // The tests of the command line have the binary built, which the browser tests drive as well.
    cargo(&BUILT)?;
    clock.part("building the tests");
    let mut tests =
        run::cargo_command(&["test", "--workspace", "--bins", "--tests", "--no-fail-fast"]);
    tests.env("VARICHROM_BINARY", root().join("target/debug/varichrom"));
    tests.env("VARICHROM_PYTHON", python);
    // The same chances wherever the same code is tested; `laws` goes looking with others.
    tests.env("PROPTEST_RNG_SEED", "1");
    let outcome = run::run(&mut tests);
    clock.part("tests");
    eprint!("{}", clock.told);
    outcome
}

fn laws(times: u32) -> Result<()> {
    cargo(&BUILT)?;
    let mut tests = run::cargo_command(&["test", "--workspace", "--test", "core"]);
    run::run(tests.env("VARICHROM_LAWS", times.to_string()))
}

fn fuzz(minutes: u64, from: Option<u64>) -> Result<()> {
    cargo(&BUILT)?;
    // Every time other ones, unless it is said.
    let now = std::time::UNIX_EPOCH.elapsed().map_or(0, |t| t.as_secs());
    let from = from.unwrap_or(now << 24);
    let filter = "mutated::changed_files";
    let core = [
        "test",
        "--workspace",
        "--test",
        "core",
        "--",
        "--nocapture",
        filter,
    ];
    let mut tests = run::cargo_command(&core);
    tests.env("VARICHROM_FUZZ_FROM", from.to_string());
    run::run(tests.env("VARICHROM_FUZZ_S", (60 * minutes).to_string()))
}

/// How long each part of something takes.
struct Clock {
    since: std::time::Instant,
    told: String,
}

impl Clock {
    fn new() -> Clock {
        Clock {
            since: std::time::Instant::now(),
            told: String::new(),
        }
    }

    /// A part has ended.
    fn part(&mut self, what: &str) {
        let seconds = self.since.elapsed().as_secs();
        self.told += &format!("{seconds:>6} s  {what}\n");
        self.since = std::time::Instant::now();
    }
}

fn bench() -> Result<()> {
    front_end::build()?;
    cargo(&["build", "--release", "--package", "varichrom"])?;
    for example in ["figures", "figures_of_parts", "figures_of_plan"] {
        let package = "varichrom-core";
        cargo(&[
            "run",
            "--release",
            "--package",
            package,
            "--example",
            example,
        ])?;
    }
    cargo(&["bench", "--package", "varichrom-core"])
}

fn shots() -> Result<()> {
    tools::browser()?;
    front_end::build()?;
    cargo(&BUILT)?;
    run::run(&mut std::process::Command::new(
        root().join("target/debug/shots"),
    ))
}
