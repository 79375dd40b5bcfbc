//! Files of every format, written by hand or by the demo's writers.

use varichrom_core::formats::threemf_names::{CORE, MATERIAL};
use varichrom_core::mesh::Mesh;
use varichrom_core::model::OpenMesh;
use varichrom_demo::{PlyKind, obj, ply, stl, threemf, threemf_package, vrml};

pub(crate) fn open(bytes: &[u8]) -> OpenMesh {
    OpenMesh::from_bytes(bytes).unwrap_or_else(|p| panic!("{p}"))
}

pub(crate) fn in_every_format(mesh: &Mesh) -> Vec<(&'static str, Vec<u8>)> {
    vec![
        ("STL, binary", stl(mesh, "it")),
        ("OBJ", obj(mesh, "it")),
        ("PLY, text", ply(mesh, PlyKind::Text)),
        ("PLY, binary", ply(mesh, PlyKind::Little)),
        ("PLY, binary, big-endian", ply(mesh, PlyKind::Big)),
        ("3MF", threemf(mesh, "it", "millimeter")),
        ("VRML97", vrml(mesh, "it")),
    ]
}

pub(crate) const CUBE: &str = r#"<mesh><vertices><vertex x="0" y="0" z="0"/><vertex x="1" y="0" z="0"/><vertex x="1" y="1" z="0"/><vertex x="0" y="1" z="0"/><vertex x="0" y="0" z="1"/><vertex x="1" y="0" z="1"/><vertex x="1" y="1" z="1"/><vertex x="0" y="1" z="1"/></vertices><triangles>
<triangle v1="0" v2="2" v3="1" TOP/><triangle v1="0" v2="3" v3="2"/><triangle v1="4" v2="5" v3="6"/><triangle v1="4" v2="6" v3="7"/><triangle v1="0" v2="1" v3="5"/><triangle v1="0" v2="5" v3="4"/><triangle v1="1" v2="2" v3="6"/><triangle v1="1" v2="6" v3="5"/><triangle v1="2" v2="3" v3="7"/><triangle v1="2" v2="7" v3="6"/><triangle v1="3" v2="0" v3="4"/><triangle v1="3" v2="4" v3="7"/></triangles></mesh>"#;

pub(crate) fn threemf_of(resources: &str, build: &str) -> Vec<u8> {
    threemf_package(&format!(
        "<?xml version=\"1.0\"?><model unit=\"millimeter\" xmlns=\"{CORE}\" \
         xmlns:m=\"{MATERIAL}\">\
         <metadata name=\"Title\">Salt &amp; pepper</metadata><resources>{resources}</resources><build>{build}</build></model>"
    ))
}

pub(crate) fn cube(top: &str) -> String {
    CUBE.replace("TOP", top)
}

pub(crate) fn vrml_square(fields: &str) -> Vec<u8> {
    format!(
        "#VRML V2.0 utf8\nShape {{ appearance Appearance {{ material Material {{ diffuseColor 0 0 1 }} }}\n\
         geometry IndexedFaceSet {{ coord Coordinate {{ point [0 0 0, 1 0 0, 1 1 0, 0 1 0] }}\n\
         coordIndex [0 1 2 -1, 0 2 3 -1] {fields} }} }}"
    )
    .into_bytes()
}

pub(crate) const TWO_OBJECTS: &str = "mtllib paint.mtl\no Hull\nusemtl rust\nv 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nf 1 2 3 4\no Mast\nusemtl sail cloth\nv 5 0 0\nv 6 0 0\nv 5 1 0\nf -3 -2 -1\n";
