//! `bodies`: a drawing or a picture becomes one closed body for each colour.

use super::commands::{in_file, print, read, unwritable};
use crate::out;
use serde::Serialize;
use std::path::PathBuf;
use varichrom_core::colour::Colour;
use varichrom_core::drawing::{
    Base, Body, DrawingOptions, Flatwork, Side, bodies_threemf, read_drawing, thin_places,
};
use varichrom_core::{Problem, counted};

/// Options of `bodies`.
#[derive(clap::Args)]
pub(crate) struct BodiesOptions {
    /// An SVG drawing, or a PNG, JPEG or WebP picture.
    drawing: PathBuf,
    /// How thick each colour is, mm.
    #[arg(long)]
    thickness: f64,
    /// Colours it is reduced to; all of a drawing, and 4 of a picture, if left out.
    #[arg(long)]
    colours: Option<usize>,
    /// How wide it is to be, mm; as the drawing says, or 80 mm on the longer side of a picture, if left out.
    #[arg(long)]
    width: Option<f64>,
    /// A plate of the largest colour below it, mm thick.
    #[arg(long)]
    base: Option<f64>,
    /// How far the plate stands out, mm.
    #[arg(long, default_value_t = 0.0, requires = "base")]
    margin: f64,
    /// Show side on the bed: mirrored, the plate above.
    #[arg(long)]
    mirrored: bool,
    /// Make what is thinner so wide, mm.
    #[arg(long)]
    thicken: Option<f64>,
    /// Folder for the results.
    #[arg(long)]
    out: PathBuf,
}

/// `bodies.json`.
#[derive(Serialize)]
struct Report {
    /// Width, depth and height of all of it, mm.
    size_mm: [f64; 3],
    bodies: Vec<Line>,
    /// What was left out or taken otherwise than it was meant.
    notes: Vec<String>,
}

#[derive(Serialize)]
struct Line {
    name: String,
    colour: Colour,
    area_mm2: f64,
    volume_mm3: f64,
    closed: bool,
}

impl Line {
    fn of(body: &Body) -> Line {
        Line {
            name: body.name.clone(),
            colour: body.colour,
            area_mm2: body.area_mm2,
            volume_mm3: body.volume_mm3(),
            closed: body.is_closed(),
        }
    }
}

pub(crate) fn bodies(options: &BodiesOptions, is_json: bool) -> Result<(), Problem> {
    let file = &options.drawing;
    let bytes = read(file)?;
    let how = DrawingOptions {
        width_mm: options.width,
        colours: options.colours,
        ..DrawingOptions::default()
    };
    let flat = read_drawing(&bytes, &how, &|_| true).map_err(|p| in_file(file, p))?;
    let mut work = Flatwork::plain(flat.inks.len(), options.thickness);
    work.base = options.base.map(|thickness_mm| Base {
        ink: 0,
        thickness_mm,
        margin_mm: options.margin,
    });
    if options.mirrored {
        work.side = Side::Bed;
    }
    work.thicken_mm = options.thicken;
    let bodies = work.bodies(&flat)?;
    let stem = file.file_stem().unwrap_or_default().to_string_lossy();
    let package = bodies_threemf(&stem, &bodies)?;
    let mut notes: Vec<String> = flat.notes.iter().map(|n| n.message.clone()).collect();
    // The width of a line of the usual nozzle.
    const LINE_MM: f64 = 0.45;
    let thin = thin_places(&flat, options.thicken.unwrap_or(LINE_MM));
    if let Some(worst) = thin.first().filter(|_| options.thicken.is_none()) {
        notes.push(format!(
            "{} thinner than {LINE_MM} mm, such as {:.2} mm of {} at {:.1}, {:.1} mm: --thicken {LINE_MM} makes them wider",
            counted(thin.len(), "place"),
            worst.width_mm,
            flat.inks[worst.ink].name,
            worst.at[0],
            worst.at[1]
        ));
    }
    let report = Report {
        size_mm: size(&bodies),
        bodies: bodies.iter().map(Line::of).collect(),
        notes,
    };
    let text = serde_json::to_string_pretty(&report).map_err(|e| {
        let mend = "Tell us about this drawing.";
        Problem::new(
            "export-failed",
            format!("The results cannot be written: {e}"),
            "",
            mend,
        )
    })?;
    std::fs::create_dir_all(&options.out).map_err(|e| unwritable(&options.out, &e))?;
    for (name, bytes) in [
        ("bodies.3mf", package),
        ("bodies.json", format!("{text}\n").into_bytes()),
    ] {
        let path = options.out.join(name);
        std::fs::write(&path, bytes).map_err(|e| unwritable(&path, &e))?;
    }
    report.notes.iter().filter(|_| !is_json).for_each(out::warn);
    print(&report, is_json, || {
        let [x, y, z] = report.size_mm;
        let mut lines = vec![format!(
            "{}, {x:.2} × {y:.2} × {z:.2} mm",
            match report.bodies.len() {
                1 => "1 body".into(),
                several => format!("{several} bodies"),
            }
        )];
        lines.extend(report.bodies.iter().map(|b| {
            let closed = if b.closed { "closed" } else { "open" };
            format!(
                "  {} {}: {:.2} mm², {:.2} mm³, {closed}",
                String::from(b.colour),
                b.name,
                b.area_mm2,
                b.volume_mm3
            )
        }));
        lines.join("\n")
    });
    Ok(())
}

/// Width, depth and height of all bodies, mm.
fn size(bodies: &[Body]) -> [f64; 3] {
    let vertices = bodies.iter().flat_map(|b| &b.mesh.vertices);
    let mut low = [f64::INFINITY; 3];
    let mut high = [f64::NEG_INFINITY; 3];
    for v in vertices {
        for i in 0..3 {
            low[i] = low[i].min(v[i]);
            high[i] = high[i].max(v[i]);
        }
    }
    std::array::from_fn(|i| high[i] - low[i])
}
