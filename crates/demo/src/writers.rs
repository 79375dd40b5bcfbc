//! A mesh as OBJ, PLY, VRML97 and 3MF, for samples, tests and benches. Coordinates keep every digit; colours are left
//! to whoever writes a sample by hand.

use std::fmt::Write;
use std::io::{Cursor, Write as _};
use varichrom_core::formats::threemf_names::{CORE, MODEL_RELATION};
use varichrom_core::mesh::Mesh;

/// OBJ text with one object of that name.
pub fn obj(mesh: &Mesh, name: &str) -> Vec<u8> {
    let mut text = format!("o {name}\n");
    for [x, y, z] in &mesh.vertices {
        let _ = writeln!(text, "v {x} {y} {z}");
    }
    for [a, b, c] in &mesh.facets {
        let _ = writeln!(text, "f {} {} {}", a + 1, b + 1, c + 1);
    }
    text.into_bytes()
}

/// The three kinds of PLY.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum PlyKind {
    /// Text.
    Text,
    /// Binary, low byte first.
    Little,
    /// Binary, high byte first.
    Big,
}

/// A PLY file with 64-bit coordinates.
pub fn ply(mesh: &Mesh, kind: PlyKind) -> Vec<u8> {
    let format = match kind {
        PlyKind::Text => "ascii",
        PlyKind::Little => "binary_little_endian",
        PlyKind::Big => "binary_big_endian",
    };
    let mut out = format!(
        "ply\nformat {format} 1.0\nelement vertex {}\nproperty double x\nproperty double y\nproperty double z\n\
         element face {}\nproperty list uchar int vertex_indices\nend_header\n",
        mesh.vertices.len(),
        mesh.facets.len()
    )
    .into_bytes();
    for p in &mesh.vertices {
        match kind {
            PlyKind::Text => out.extend(format!("{} {} {}\n", p[0], p[1], p[2]).into_bytes()),
            PlyKind::Little => p.iter().for_each(|c| out.extend(c.to_le_bytes())),
            PlyKind::Big => p.iter().for_each(|c| out.extend(c.to_be_bytes())),
        }
    }
    for f in &mesh.facets {
        match kind {
            PlyKind::Text => out.extend(format!("3 {} {} {}\n", f[0], f[1], f[2]).into_bytes()),
            PlyKind::Little => {
                out.push(3);
                f.iter().for_each(|v| out.extend(v.to_le_bytes()));
            }
            PlyKind::Big => {
                out.push(3);
                f.iter().for_each(|v| out.extend(v.to_be_bytes()));
            }
        }
    }
    out
}

/// VRML97 text with one named shape.
pub fn vrml(mesh: &Mesh, name: &str) -> Vec<u8> {
    let mut text = format!(
        "#VRML V2.0 utf8\nDEF {name} Shape {{ geometry IndexedFaceSet {{\n coord Coordinate {{ point [\n"
    );
    for [x, y, z] in &mesh.vertices {
        let _ = writeln!(text, "{x} {y} {z},");
    }
    text += " ] }\n coordIndex [\n";
    for [a, b, c] in &mesh.facets {
        let _ = writeln!(text, "{a} {b} {c} -1");
    }
    text += " ]\n} }\n";
    text.into_bytes()
}

/// A 3MF package around the text of its model part.
pub fn threemf_package(model: &str) -> Vec<u8> {
    const TYPES: &str = r#"<?xml version="1.0" encoding="UTF-8"?><Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/></Types>"#;
    const RELATIONS: &str = r#"<?xml version="1.0" encoding="UTF-8"?><Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Target="/3D/3dmodel.model" Id="rel0" Type="MODEL"/></Relationships>"#;
    let mut archive = zip::ZipWriter::new(Cursor::new(Vec::new()));
    let relations = RELATIONS.replace("MODEL", MODEL_RELATION);
    for (name, text) in [
        ("[Content_Types].xml", TYPES),
        ("_rels/.rels", relations.as_str()),
        ("3D/3dmodel.model", model),
    ] {
        // Writing to memory cannot fail.
        let _ = archive.start_file(name, zip::write::SimpleFileOptions::default());
        let _ = archive.write_all(text.as_bytes());
    }
    archive.finish().map(Cursor::into_inner).unwrap_or_default()
}

/// A 3MF package with one object, in the unit given, such as `millimeter`.
pub fn threemf(mesh: &Mesh, name: &str, unit: &str) -> Vec<u8> {
    let mut text = format!(
        "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<model unit=\"{unit}\" xml:lang=\"en\" \
         xmlns=\"{CORE}\"><resources>\
         <object id=\"1\" type=\"model\" name=\"{name}\"><mesh><vertices>\n"
    );
    for [x, y, z] in &mesh.vertices {
        let _ = writeln!(text, "<vertex x=\"{x}\" y=\"{y}\" z=\"{z}\"/>");
    }
    text += "</vertices><triangles>\n";
    for [a, b, c] in &mesh.facets {
        let _ = writeln!(text, "<triangle v1=\"{a}\" v2=\"{b}\" v3=\"{c}\"/>");
    }
    text +=
        "</triangles></mesh></object></resources><build><item objectid=\"1\"/></build></model>\n";
    threemf_package(&text)
}
