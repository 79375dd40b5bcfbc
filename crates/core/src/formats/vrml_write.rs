//! VRML97 (ISO/IEC 14772-1:1997): a shape for each part, a colour for each facet.

use super::objects::listed;
use super::text::writable;
use super::threemf_write::Package;
use std::fmt::Write;

/// The parts of a package. The standard means metres; print shops read mm, which is said in the file.
pub fn write_vrml(package: &Package<'_>) -> Vec<u8> {
    let quoted = |text: &str| writable(text).replace('\\', "\\\\").replace('"', "\\\"");
    let mut out = String::from("#VRML V2.0 utf8\n");
    let _ = writeln!(
        out,
        "WorldInfo {{ title \"{}\" info [ \"units: mm, z up\" ] }}",
        quoted(package.title)
    );
    for (number, object) in listed(package).iter().enumerate() {
        let _ = writeln!(
            out,
            "# {}\nDEF Part_{} Shape {{\n appearance Appearance {{ material Material {{ {}}} }}\n geometry IndexedFaceSet {{\n  solid TRUE colorPerVertex FALSE\n  coord Coordinate {{ point [",
            writable(&object.name).replace('\n', " "),
            number + 1,
            match object.opacity {
                solid if solid >= 1.0 => String::new(),
                clear => format!("transparency {:.3} ", 1.0 - clear),
            }
        );
        for [x, y, z] in &object.vertices {
            let _ = writeln!(out, "{x} {y} {z},");
        }
        out.push_str("  ] }\n  coordIndex [\n");
        for ([a, b, c], _) in &object.facets {
            let _ = writeln!(out, "{a} {b} {c} -1,");
        }
        out.push_str("  ]\n  color Color { color [\n");
        for region in &package.regions {
            let [r, g, b] = region.colour.0.map(|c| f64::from(c) / 255.0);
            let _ = writeln!(out, "{r:.6} {g:.6} {b:.6},");
        }
        out.push_str("  ] }\n  colorIndex [\n");
        for (_, region) in &object.facets {
            let _ = writeln!(out, "{region}");
        }
        out.push_str("  ]\n } }\n");
    }
    out.into_bytes()
}
