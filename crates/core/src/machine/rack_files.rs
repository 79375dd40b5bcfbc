//! The rack as a table (CSV, RFC 4180) and as JSON.

use super::Spool;
use crate::Problem;

/// The columns of a table, in their order. Only the first four must be there.
const COLUMNS: [&str; 14] = [
    "id",
    "name",
    "colour",
    "material",
    "density_g_cm3",
    "price_per_kg",
    "left_g",
    "tinting",
    "opacity",
    "nozzle_low_c",
    "nozzle_high_c",
    "diameter_mm",
    "is_translucent",
    "is_archived",
];

const NEEDED: usize = 4;

/// Tables are refused beyond this.
const MOST_ROWS: usize = 10_000;

fn refuse(message: String, place: &str, mend: &str) -> Problem {
    Problem::new("rack-file", message, place, mend)
}

/// The rack as a table with a line of headings.
pub fn rack_to_csv(rack: &[Spool]) -> String {
    let mut out = csv::Writer::from_writer(Vec::new());
    // Writing to memory does not fail.
    let _ = out.write_record(COLUMNS);
    for s in rack {
        let row = [
            s.id.clone(),
            s.name.clone(),
            s.colour.to_string(),
            s.material.clone(),
            s.density_g_cm3.to_string(),
            s.price_per_kg.to_string(),
            s.left_g.to_string(),
            s.tinting.to_string(),
            s.opacity.to_string(),
            s.nozzle_c[0].to_string(),
            s.nozzle_c[1].to_string(),
            s.diameter_mm.to_string(),
            s.is_translucent.to_string(),
            s.is_archived.to_string(),
        ];
        let _ = out.write_record(&row);
    }
    let bytes = out.into_inner().unwrap_or_default();
    String::from_utf8_lossy(&bytes).into_owned()
}

/// Spools of a table. Columns may come in any order; those that are left out, and empty cells, get what is usual.
///
/// # Errors
/// A [`Problem`] that names the line and the column: missing or unknown columns, cells that are no numbers, values
/// that a spool cannot have, two spools with one id.
pub fn rack_from_csv(bytes: &[u8]) -> Result<Vec<Spool>, Problem> {
    let mut reader = csv::ReaderBuilder::new()
        .flexible(true)
        .trim(csv::Trim::All)
        .from_reader(bytes.strip_prefix(b"\xef\xbb\xbf").unwrap_or(bytes));
    let broken = |e: &csv::Error| {
        let line = e.position().map_or(1, csv::Position::line);
        refuse(
            "The table cannot be read".into(),
            &format!("line {line}"),
            "Save it as CSV with commas, in UTF-8.",
        )
    };
    let headings = reader.headers().map_err(|e| broken(&e))?.clone();
    let mut column = [None; COLUMNS.len()];
    for (at, heading) in headings.iter().enumerate() {
        let Some(known) = COLUMNS.iter().position(|c| *c == heading) else {
            let shown: String = heading.chars().take(40).collect();
            return Err(refuse(
                format!("There is no column called {shown}"),
                "line 1",
                &format!("Use these: {}.", COLUMNS.join(", ")),
            ));
        };
        column[known] = Some(at);
    }
    if let Some(missing) = (0..NEEDED).find(|c| column[*c].is_none()) {
        return Err(refuse(
            format!("The column {} is missing", COLUMNS[missing]),
            "line 1",
            &format!("Tables need {}.", COLUMNS[..NEEDED].join(", ")),
        ));
    }
    let mut spools = Vec::new();
    for record in reader.records() {
        let record = record.map_err(|e| broken(&e))?;
        let line = record.position().map_or(0, csv::Position::line);
        if spools.len() == MOST_ROWS {
            return Err(refuse(
                format!("The table has more than {MOST_ROWS} spools"),
                "",
                "Bring it in in pieces.",
            ));
        }
        let cell = |c: usize| column[c].and_then(|at| record.get(at)).unwrap_or("");
        let place = |c: usize| format!("line {line}, column {}", COLUMNS[c]);
        for c in 0..COLUMNS.len() {
            if is_formula(cell(c)) {
                return Err(refuse(
                    "This cell is a formula, not a value".into(),
                    &place(c),
                    "Put the plain value in its place.",
                ));
            }
        }
        let number = |c: usize, usual: f64| -> Result<f64, Problem> {
            if cell(c).is_empty() {
                return Ok(usual);
            }
            cell(c).parse().map_err(|_| {
                refuse(
                    format!("{} is not a number", short(cell(c))),
                    &place(c),
                    "Write it with digits and a point, such as 1.24.",
                )
            })
        };
        let yes = |c: usize| match cell(c).to_ascii_lowercase().as_str() {
            "" | "false" | "no" | "0" => Ok(false),
            "true" | "yes" | "1" => Ok(true),
            other => Err(refuse(
                format!("{} is neither yes nor no", short(other)),
                &place(c),
                "Write true or false.",
            )),
        };
        let colour = cell(2)
            .parse()
            .map_err(|e| refuse(format!("{e}"), &place(2), "Write a colour such as #c8442f."))?;
        let usual = Spool::usual(colour, cell(3), yes(12)?);
        spools.push(Spool {
            id: cell(0).into(),
            name: cell(1).into(),
            density_g_cm3: number(4, usual.density_g_cm3)?,
            price_per_kg: number(5, usual.price_per_kg)?,
            left_g: number(6, usual.left_g)?,
            tinting: number(7, usual.tinting)?,
            opacity: number(8, usual.opacity)?,
            nozzle_c: [
                number(9, usual.nozzle_c[0])?,
                number(10, usual.nozzle_c[1])?,
            ],
            diameter_mm: number(11, usual.diameter_mm)?,
            is_archived: yes(13)?,
            ..usual
        });
        check_last(&spools, &format!("line {line}"))?;
    }
    Ok(spools)
}

/// The rack as JSON, a list of spools.
pub fn rack_to_json(rack: &[Spool]) -> String {
    serde_json::to_string_pretty(rack).unwrap_or_default()
}

/// Spools of a JSON list.
///
/// # Errors
/// A [`Problem`] that names the line, or the spool whose values cannot be.
pub fn rack_from_json(bytes: &[u8]) -> Result<Vec<Spool>, Problem> {
    let all: Vec<Spool> = serde_json::from_slice(bytes).map_err(|e| {
        let place = format!("line {}, column {}", e.line(), e.column());
        let mend = "Bring in a list of spools as Varichrom writes it.";
        refuse(format!("This is no list of spools: {e}"), &place, mend)
    })?;
    for n in 0..all.len() {
        check_last(&all[..=n], &format!("spool {}", n + 1))?;
    }
    Ok(all)
}

/// Checks the last of some spools, and that no other has its id.
fn check_last(spools: &[Spool], place: &str) -> Result<(), Problem> {
    let Some((last, others)) = spools.split_last() else {
        return Ok(());
    };
    let at = |p: Problem| Problem {
        place: Some(match p.place {
            Some(inner) if !inner.is_empty() => format!("{place}, {inner}"),
            _ => place.to_string(),
        }),
        ..p
    };
    last.check().map_err(at)?;
    if others.iter().any(|s| s.id == last.id) {
        return Err(refuse(
            format!("Two spools have the id {}", short(&last.id)),
            place,
            "Give each its own id.",
        ));
    }
    Ok(())
}

/// Text that a table program would take for a formula.
pub(super) fn is_formula(text: &str) -> bool {
    let is_number = text.parse::<f64>().is_ok();
    !is_number && text.starts_with(['=', '+', '-', '@', '\t', '\r'])
}

fn short(text: &str) -> String {
    text.chars().take(40).collect()
}
