//! What the commands print: the JSON of the public interface (docs/command-line.md).

use serde::Serialize;
use varichrom_core::counted;
use varichrom_core::gcode::Summary;
use varichrom_core::mesh::Defect;
use varichrom_core::model::{OpenMesh, Patch};

/// `inspect`.
#[derive(Serialize)]
pub(crate) struct Inspection {
    pub(crate) file: String,
    pub(crate) format: &'static str,
    /// Units, and whether the file says so or they are assumed.
    pub(crate) units: String,
    pub(crate) size_mm: [f64; 3],
    pub(crate) facets: usize,
    pub(crate) vertices: usize,
    pub(crate) closed: bool,
    pub(crate) volume_mm3: f64,
    pub(crate) area_mm2: f64,
    pub(crate) parts: Vec<InspectedPart>,
    pub(crate) defects: Vec<Defect>,
    /// Colours the file brings, those that vary over facets not counted.
    pub(crate) colours: usize,
    /// What the file holds and cannot be taken over.
    pub(crate) left_out: Vec<String>,
}

#[derive(Serialize)]
pub(crate) struct InspectedPart {
    pub(crate) name: String,
    pub(crate) facets: u32,
    pub(crate) closed: bool,
    pub(crate) volume_mm3: f64,
    pub(crate) area_mm2: f64,
    /// Names of the parts inside this one.
    pub(crate) encloses: Vec<String>,
}

impl Inspection {
    pub(crate) fn of(file: &str, open: &OpenMesh) -> Inspection {
        let name = |i: usize| {
            open.part_names[i]
                .clone()
                .unwrap_or_else(|| format!("part {}", i + 1))
        };
        Inspection {
            file: file.into(),
            format: open.origin.format,
            units: units_of(open),
            size_mm: open.bounds().size(),
            facets: open.mesh.facets.len(),
            vertices: open.mesh.vertices.len(),
            closed: open.is_closed(),
            volume_mm3: open.volume_mm3(),
            area_mm2: open.area_mm2(),
            parts: open
                .parts
                .iter()
                .enumerate()
                .map(|(i, p)| InspectedPart {
                    name: name(i),
                    facets: p.facets,
                    closed: p.is_closed,
                    volume_mm3: p.measures.volume_mm3,
                    area_mm2: p.measures.area_mm2,
                    encloses: p.encloses.iter().map(|e| name(*e as usize)).collect(),
                })
                .collect(),
            defects: open.defects.clone(),
            colours: open.origin.colours.as_ref().map_or(0, |c| c.palette.len()),
            left_out: open.origin.left_out.clone(),
        }
    }

    pub(crate) fn text(&self) -> String {
        let [x, y, z] = self.size_mm;
        let mut text = format!(
            "{}\n  {}, units {}\n  {x:.2} × {y:.2} × {z:.2} mm, {}, {} vertices, {}\n  \
             volume {:.2} mm³, area {:.2} mm²\n  parts: {}\n",
            self.file,
            self.format,
            self.units,
            counted(self.facets, "facet"),
            self.vertices,
            if self.closed { "closed" } else { "not closed" },
            self.volume_mm3,
            self.area_mm2,
            self.parts.len(),
        );
        for part in &self.parts {
            const NAMED: usize = 5;
            let inside = match part.encloses.len() {
                0 => String::new(),
                n if n <= NAMED => format!(", encloses {}", part.encloses.join(", ")),
                n => {
                    let some = part.encloses[..NAMED].join(", ");
                    format!(", encloses {some} and {} more", n - NAMED)
                }
            };
            text += &format!(
                "    {}: {}, {:.2} mm³{inside}\n",
                part.name,
                counted(part.facets as usize, "facet"),
                part.volume_mm3
            );
        }
        if self.colours > 0 {
            text += &format!("  colours: {}\n", self.colours);
        }
        for what in &self.left_out {
            text += &format!("  left out: {what}\n");
        }
        for defect in &self.defects {
            let [x, y, z] = defect.first_at;
            let kind = serde_json::to_string(&defect.kind).unwrap_or_default();
            text += &format!(
                "  defect: {} × {}, first at {x:.2}, {y:.2}, {z:.2}\n",
                defect.count,
                kind.trim_matches('"').replace('-', " ")
            );
        }
        text
    }
}

/// The file's units in words: `inch`, or `mm, assumed`.
fn units_of(open: &OpenMesh) -> String {
    let units = &open.origin.units;
    if units.is_stated {
        units.name.to_string()
    } else {
        "mm, assumed".into()
    }
}

/// `patches`.
#[derive(Serialize)]
pub(crate) struct PatchReport {
    pub(crate) crease_deg: f64,
    pub(crate) patches: Vec<ReportedPatch>,
}

#[derive(Serialize)]
pub(crate) struct ReportedPatch {
    pub(crate) facets: u32,
    pub(crate) area_mm2: f64,
    /// Unit normal of a flat patch, else null.
    pub(crate) normal: Option<[f64; 3]>,
    /// Patches across its border, by place in this list.
    pub(crate) neighbours: Vec<u32>,
}

impl From<Patch> for ReportedPatch {
    fn from(p: Patch) -> Self {
        ReportedPatch {
            facets: p.facets,
            area_mm2: p.area_mm2,
            normal: p.normal,
            neighbours: p.neighbours,
        }
    }
}

/// `inspect` of a print file.
#[derive(Serialize)]
pub(crate) struct PrintReport {
    file: String,
    format: &'static str,
    #[serde(flatten)]
    found: Summary,
}

impl PrintReport {
    pub(crate) fn of(file: String, found: Summary) -> PrintReport {
        PrintReport {
            file,
            format: "g-code",
            found,
        }
    }

    pub(crate) fn text(&self) -> String {
        let found = &self.found;
        let top = found.layers.last().map_or(0.0, |l| l.z_mm);
        let mut text = format!(
            "{}: g-code, {} up to {top:.2} mm, {}, {}, {:.0} min\n",
            self.file,
            counted(found.layers.len(), "layer"),
            counted(found.changes.len(), "change"),
            counted(found.pauses.len(), "pause"),
            found.time_s / 60.0,
        );
        for (tool, sum) in &found.tools {
            text += &format!("  tool {tool}: {:.1} mm³, {:.0} mm\n", sum.mm3, sum.mm);
        }
        let purged: f64 = found.changes.iter().map(|c| c.purge_mm3).sum();
        if purged > 0.0 {
            text += &format!("  purged at changes: {purged:.0} mm³\n");
        }
        for pause in &found.pauses {
            let layer = pause.layer.map_or("before the first layer".into(), |l| {
                format!("in layer {}", l + 1)
            });
            text += &format!("  waits {layer}: {}\n", pause.text);
        }
        for (word, count) in &found.unknown_words {
            text += &format!("  unknown: {word}, {}\n", counted(*count, "time"));
        }
        text
    }
}
