//! The `varichrom` binary: the server, the demo, and the commands that need no browser.

mod commands;
mod drawing;
mod keeping;
mod out;
mod report;
mod rewriting;
mod serving;

use clap::{Parser, Subcommand};
use std::net::IpAddr;
use std::path::PathBuf;
use std::process::ExitCode;
use varichrom_core::Problem;

/// Gives memory back to the machine when a large job is put aside, which the system's allocator does not.
#[global_allocator]
static MEMORY: mimalloc::MiMalloc = mimalloc::MiMalloc;

/// Divide a mesh into colour regions, give each a slot, and plan purge and print order.
#[derive(Parser)]
#[command(version = env!("VARICHROM_VERSION"), about)]
struct Cli {
    /// Print results, and errors on stderr, as JSON.
    #[arg(long, global = true)]
    json: bool,
    #[command(subcommand)]
    command: Command,
}

#[derive(clap::Args)]
struct ServeOptions {
    /// Port to listen on; 0 picks a free one.
    #[arg(long, default_value_t = 7360)]
    port: u16,
    /// Folder for the database.
    #[arg(long, default_value = "varichrom-data")]
    data: PathBuf,
    /// Address to listen on; anything but this machine's own needs --token.
    #[arg(long, default_value = "127.0.0.1")]
    address: IpAddr,
    /// Secret that every call must carry; needed when the address can be reached from elsewhere, unless there are people.
    #[arg(long, env = "VARICHROM_TOKEN", hide_env_values = true)]
    token: Option<String>,
    /// People with a token each and what they may do, as JSON.
    #[arg(long)]
    people: Option<PathBuf>,
    /// Name under which the server is reached besides its own address, such as a proxy's; may be given several times.
    #[arg(long = "host")]
    hosts: Vec<String>,
    /// Certificate for secret connections, PEM.
    #[arg(long, requires = "key")]
    certificate: Option<PathBuf>,
    /// Its private key, PEM.
    #[arg(long, requires = "certificate")]
    key: Option<PathBuf>,
    /// Make a certificate of its own for the address and the hosts, and use it.
    #[arg(long, conflicts_with = "certificate")]
    own_certificate: bool,
    /// Largest model file, in MiB.
    #[arg(long, default_value_t = 512)]
    max_file: usize,
}

#[derive(Subcommand)]
enum Command {
    /// Serve the application.
    Serve(ServeOptions),
    /// Put the demo on the shelf, if the shelf is empty, then serve.
    Demo {
        #[command(flatten)]
        options: ServeOptions,
        /// Open the browser.
        #[arg(long)]
        open: bool,
        /// Only make the demo data.
        #[arg(long)]
        no_serve: bool,
    },
    /// Write a copy of everything in a data folder, also while it is served.
    Backup {
        /// The copy; it must not be there yet.
        to: PathBuf,
        /// The data folder.
        #[arg(long, default_value = "varichrom-data")]
        data: PathBuf,
    },
    /// Bring a copy back into a data folder that nobody uses; what is there now is kept beside it.
    Restore {
        /// The copy.
        from: PathBuf,
        /// The data folder.
        #[arg(long, default_value = "varichrom-data")]
        data: PathBuf,
    },
    /// Look a data folder over that nobody uses, mend what can be mended, and say what cannot.
    Doctor {
        /// The data folder.
        #[arg(long, default_value = "varichrom-data")]
        data: PathBuf,
    },
    /// Size, units, facets, parts and defects of model files.
    Inspect {
        /// Models, or print files (G-code).
        #[arg(required = true)]
        files: Vec<PathBuf>,
        /// Diameter of the filament that print files feed, mm.
        #[arg(long, default_value_t = 1.75)]
        filament: f64,
    },
    /// Patches of a model at a crease angle.
    Patches {
        /// An STL file.
        file: PathBuf,
        /// Crease angle in degrees, 1 to 90.
        #[arg(long, default_value_t = 30.0)]
        crease: f64,
    },
    /// How much to purge from one colour to another.
    Rinse {
        /// Colour unloaded, #rrggbb.
        #[arg(long)]
        from: String,
        /// Colour loaded, #rrggbb.
        #[arg(long)]
        to: String,
        /// CIEDE2000 difference that counts as clean; the printer's if left out.
        #[arg(long)]
        tolerance: Option<f64>,
        /// Printer as JSON; the generic feeder if left out.
        #[arg(long)]
        printer: Option<PathBuf>,
    },
    /// A small simulated printer that says what it is and holds, for trying out Load.
    StandIn {
        /// Port to listen on; 0 picks a free one.
        #[arg(long, default_value_t = 7500)]
        port: u16,
        /// What it is and holds, as JSON (docs/stand-in.md); the demo's printer if left out.
        #[arg(long)]
        printer: Option<PathBuf>,
        /// How it answers: right, wrong, empty, silent or nonsense.
        #[arg(long, default_value = "right")]
        mood: String,
        /// What a program has to carry in its calls; nothing if left out.
        #[arg(long)]
        key: Option<String>,
    },
    /// What would make a recipe's plan cheaper: each piece of advice planned in full, what keeps the look first.
    Advise {
        /// The recipe.
        recipe: PathBuf,
        /// Try other ways to stand as well.
        #[arg(long)]
        poses: bool,
    },
    /// Make closed bodies, one for each colour, of a drawing or a picture.
    Bodies(drawing::BodiesOptions),
    /// Put a sliced file right: tools, prompts, purge, changes, passes joined, a strand.
    Rewrite(rewriting::RewriteOptions),
    /// Replay a recipe: models, edits, slots and printer to plan and exports.
    Run {
        /// The recipe; - reads it from standard input.
        recipe: PathBuf,
        /// Folder for the results.
        #[arg(long)]
        out: PathBuf,
        /// End with an error if the plan warns of anything.
        #[arg(long)]
        strict: bool,
    },
}

fn main() -> ExitCode {
    let cli = Cli::parse();
    let done = match cli.command {
        Command::Serve(options) => serving::serve(&options, None),
        Command::Demo {
            options,
            open,
            no_serve,
        } => serving::serve(&options, Some(serving::Demo { open, no_serve })),
        Command::Backup { to, data } => keeping::backup(&data, &to),
        Command::Restore { from, data } => keeping::restore(&data, &from),
        Command::Doctor { data } => keeping::doctor(&data, cli.json),
        Command::Inspect { files, filament } => commands::inspect(&files, filament, cli.json),
        Command::Patches { file, crease } => commands::patches(&file, crease, cli.json),
        Command::Rinse {
            from,
            to,
            tolerance,
            printer,
        } => commands::rinse(&from, &to, tolerance, printer.as_deref(), cli.json),
        Command::StandIn {
            port,
            printer,
            mood,
            key,
        } => commands::stand_in(port, printer.as_deref(), &mood, key),
        Command::Advise { recipe, poses } => commands::advise(&recipe, poses, cli.json),
        Command::Bodies(options) => drawing::bodies(&options, cli.json),
        Command::Rewrite(options) => rewriting::rewrite(&options, cli.json),
        Command::Run {
            recipe,
            out,
            strict,
        } => commands::run(&recipe, &out, strict, cli.json),
    };
    match done {
        Ok(()) => ExitCode::SUCCESS,
        Err(problem) => {
            out::warn(match cli.json {
                true => to_json(&problem),
                false => problem.to_string(),
            });
            ExitCode::FAILURE
        }
    }
}

fn to_json(problem: &Problem) -> String {
    serde_json::to_string(problem).unwrap_or_else(|_| problem.to_string())
}
