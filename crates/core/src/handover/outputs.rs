//! Every file that a job is handed over as, once: for the server, the page and the command line.

use serde::Serialize;

/// What a file is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[serde(rename_all = "kebab-case")]
pub enum OutputKind {
    /// What the printer is told.
    Print,
    /// The same, with what a check needs to know.
    PrintZip,
    /// The coloured model.
    Model,
    /// The same for programs that read OBJ.
    Obj,
    /// The same for programs that read PLY.
    Ply,
    /// The same for shops that print any colour.
    Vrml,
    /// The closed bodies.
    Bodies,
    /// The plan for programs.
    Plan,
    /// Its swaps as a table.
    Swaps,
    /// The edits alone.
    Edits,
    /// The edits with names of models, spools and printer, as the command line takes them.
    Recipe,
    /// All of it.
    Project,
}

/// A file that a job is handed over as.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
pub struct Output {
    /// What it is.
    #[serde(skip)]
    pub kind: OutputKind,
    /// Its name, which the job's is put before.
    pub file: &'static str,
    /// What it is called.
    pub name: &'static str,
    /// What it carries.
    pub carries: &'static str,
    /// What it loses.
    pub loses: &'static str,
    /// Media type.
    #[serde(skip)]
    pub media: &'static str,
    /// Whether the plan has to be there first.
    #[serde(rename = "needsPlan")]
    pub needs_plan: bool,
    /// Whether the page offers it by itself.
    #[serde(rename = "isListed")]
    pub is_listed: bool,
}

impl Output {
    /// All files, in the order in which they are offered.
    pub const ALL: [Output; 12] = [
        Output {
            kind: OutputKind::Print,
            file: "print.gcode",
            name: "Print file (G-code)",
            carries: "Every move: beads in the planned order, swaps, purge, temperatures. For printers that print in one go.",
            loses: "The model: another printer or spool needs a new file.",
            media: "text/x-gcode",
            needs_plan: true,
            is_listed: true,
        },
        Output {
            kind: OutputKind::PrintZip,
            file: "print.zip",
            name: "Print files, all (ZIP)",
            carries: "One file a pass where colours print one after the other; lengths to splice; plan, model and a list for a check.",
            loses: "The edits.",
            media: "application/zip",
            needs_plan: true,
            is_listed: true,
        },
        Output {
            kind: OutputKind::Model,
            file: "model.3mf",
            name: "Coloured model (3MF)",
            carries: "Shape, parts and their names, a colour for every region, a material for every slot, millimetres.",
            loses: "Soak depth, what goes right through, the order and the purge.",
            media: "model/3mf",
            needs_plan: false,
            is_listed: true,
        },
        Output {
            kind: OutputKind::Obj,
            file: "model-obj.zip",
            name: "Coloured model (OBJ and MTL, ZIP)",
            carries: "Shape, parts and their names, a material with colour and opacity for every region.",
            loses: "Units but in a comment, slots, what goes right through, the order and the purge.",
            media: "application/zip",
            needs_plan: false,
            is_listed: true,
        },
        Output {
            kind: OutputKind::Ply,
            file: "model.ply",
            name: "Coloured model (PLY)",
            carries: "Shape, and the colour of every facet.",
            loses: "Names, units but in a comment, opacity, slots, the order and the purge.",
            media: "application/octet-stream",
            needs_plan: false,
            is_listed: true,
        },
        Output {
            kind: OutputKind::Vrml,
            file: "model.wrl",
            name: "Coloured model (VRML97)",
            carries: "Shape part by part, and the colour of every facet: what shops with a printer of all colours take.",
            loses: "Units but in a word, opacity, slots, the order and the purge.",
            media: "model/vrml",
            needs_plan: false,
            is_listed: true,
        },
        Output {
            kind: OutputKind::Bodies,
            file: "parts.zip",
            name: "One STL for each body (ZIP)",
            carries: "Closed bodies that share nothing, on the bed as the job stands; a table with names, colours and materials, and a note.",
            loses: "Names, colours and materials but in the table, units, slots, the plan.",
            media: "application/zip",
            needs_plan: false,
            // It is offered with a choice of depths, in a row of its own.
            is_listed: false,
        },
        Output {
            kind: OutputKind::Plan,
            file: "plan.json",
            name: "Plan for programs (JSON)",
            carries: "Every layer with its order, areas and volumes; every swap; the bill.",
            loses: "The shape.",
            media: "application/json",
            needs_plan: true,
            is_listed: true,
        },
        Output {
            kind: OutputKind::Swaps,
            file: "swaps.csv",
            name: "Swaps as a table (CSV)",
            carries: "One row a swap: layer, height, from, to, purge in mm³ and mm.",
            loses: "Shape, areas, the bill.",
            media: "text/csv; charset=utf-8",
            needs_plan: true,
            is_listed: true,
        },
        Output {
            kind: OutputKind::Edits,
            file: "edits.json",
            name: "Edits of this job (JSON)",
            carries: "Everything done to the job, by position: Colour replays it on models of the same names.",
            loses: "The model files, the spools.",
            media: "application/json",
            needs_plan: false,
            is_listed: true,
        },
        Output {
            kind: OutputKind::Recipe,
            file: "recipe.json",
            name: "Recipe for the command line (JSON)",
            carries: "Edits, names of the models, spools and printer.",
            loses: "The model files, which lie beside it.",
            media: "application/json",
            needs_plan: false,
            is_listed: false,
        },
        Output {
            kind: OutputKind::Project,
            file: "project.zip",
            name: "The whole job (ZIP)",
            carries: "Edits, model files and spools: the shelf opens it again, here or elsewhere.",
            loses: "Nothing but what could be redone.",
            media: "application/zip",
            needs_plan: false,
            is_listed: true,
        },
    ];

    /// The output of that file name.
    pub fn of_file(file: &str) -> Option<Output> {
        Output::ALL.into_iter().find(|o| o.file == file)
    }
}

/// The outputs as a module of TypeScript, by their kind, for the page that offers them.
#[cfg(feature = "wire")]
pub fn outputs_as_typescript() -> String {
    let mut text = String::from(
        "// This file was generated from crates/core/src/handover/outputs.rs. Do not edit this file manually.\n\n\
         /** Every file that a job is handed over as, in the order in which they are offered. */\nexport const outputs = {\n",
    );
    for output in Output::ALL {
        let kind = serde_json::to_string(&output.kind).expect("plain data");
        let json = serde_json::to_string_pretty(&output).expect("plain data");
        text += &format!("{kind}: {json},\n");
    }
    text + "} as const;\n"
}
