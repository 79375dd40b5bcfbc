//! Plastics: density, temperatures, and which hold on to one another.

use serde::Serialize;

/// What is known of a plastic. Values of a spool's own label go before these.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Material {
    /// Its short name, such as PLA.
    pub name: &'static str,
    /// Density, g/cm³.
    pub density_g_cm3: f64,
    /// Nozzle temperatures it is printed at, °C.
    pub nozzle_c: [f64; 2],
    /// Temperature of the bed it is printed on, °C.
    pub bed_c: f64,
    /// Whether it bends like rubber.
    pub is_rubbery: bool,
    /// Where the density is from.
    pub source: &'static str,
    /// Plastics it bonds to, besides itself.
    bonds_with: &'static [&'static str],
}

/// The plastics that are known. Densities are from data sheets as named; temperatures and bonds are common practice,
/// no source.
pub const MATERIALS: [Material; 9] = [
    Material {
        name: "PLA",
        density_g_cm3: 1.24,
        nozzle_c: [190.0, 220.0],
        bed_c: 60.0,
        is_rubbery: false,
        source: "NatureWorks Ingeo 4043D data sheet (from memory)",
        bonds_with: &["TPU", "PVA"],
    },
    Material {
        name: "PETG",
        density_g_cm3: 1.27,
        nozzle_c: [225.0, 250.0],
        bed_c: 75.0,
        is_rubbery: false,
        source: "Eastman Eastar 6763 data sheet (from memory)",
        bonds_with: &["TPU"],
    },
    Material {
        name: "ABS",
        density_g_cm3: 1.04,
        nozzle_c: [230.0, 260.0],
        bed_c: 100.0,
        is_rubbery: false,
        source: "Ineos Terluran GP-22 data sheet (from memory)",
        bonds_with: &["ASA", "HIPS", "PC", "TPU"],
    },
    Material {
        name: "ASA",
        density_g_cm3: 1.07,
        nozzle_c: [235.0, 260.0],
        bed_c: 100.0,
        is_rubbery: false,
        source: "Ineos Luran S 757R data sheet (from memory)",
        bonds_with: &["ABS", "HIPS", "PC"],
    },
    Material {
        name: "TPU",
        density_g_cm3: 1.15,
        nozzle_c: [215.0, 240.0],
        bed_c: 45.0,
        is_rubbery: true,
        source: "BASF Elastollan 1195A data sheet (from memory)",
        bonds_with: &["PLA", "PETG", "ABS", "PC"],
    },
    Material {
        name: "PC",
        density_g_cm3: 1.2,
        nozzle_c: [260.0, 290.0],
        bed_c: 110.0,
        is_rubbery: false,
        source: "Covestro Makrolon 2407 data sheet (from memory)",
        bonds_with: &["ABS", "ASA", "TPU"],
    },
    Material {
        name: "PA",
        density_g_cm3: 1.13,
        nozzle_c: [245.0, 270.0],
        bed_c: 80.0,
        is_rubbery: false,
        source: "BASF Ultramid B3 data sheet (from memory)",
        bonds_with: &[],
    },
    Material {
        name: "HIPS",
        density_g_cm3: 1.04,
        nozzle_c: [230.0, 250.0],
        bed_c: 95.0,
        is_rubbery: false,
        source: "handbook value of impact-modified polystyrene (from memory)",
        bonds_with: &["ABS", "ASA"],
    },
    Material {
        name: "PVA",
        density_g_cm3: 1.23,
        nozzle_c: [190.0, 210.0],
        bed_c: 50.0,
        is_rubbery: false,
        source: "handbook value of polyvinyl alcohol, 1.19 to 1.31 (from memory)",
        bonds_with: &["PLA"],
    },
];

impl Material {
    /// The plastic of a name, whatever its case.
    pub fn named(name: &str) -> Option<&'static Material> {
        MATERIALS
            .iter()
            .find(|m| m.name.eq_ignore_ascii_case(name.trim()))
    }
}

/// Whether two plastics hold on to one another; none if one of them is not known. The same plastic always does.
pub fn bonds(a: &str, b: &str) -> Option<bool> {
    if a.trim().eq_ignore_ascii_case(b.trim()) {
        return Some(true);
    }
    let (a, b) = (Material::named(a)?, Material::named(b)?);
    Some(a.bonds_with.contains(&b.name) || b.bonds_with.contains(&a.name))
}

/// Temperature of the bed for a plastic, °C; that of PLA for one that nobody knows.
pub fn bed_c(plastic: &str) -> f64 {
    const UNKNOWN_C: f64 = 60.0;
    let known = MATERIALS.iter().find(|m| m.name == plastic);
    known.map_or(UNKNOWN_C, |m| m.bed_c)
}
