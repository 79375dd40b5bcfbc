//! Printers, spools and materials.

mod base_material;
mod check;
mod file_names;
mod kind;
mod material;
mod passages;
mod places;
mod print_settings;
mod printer;
mod printing;
mod profile;
mod rack_files;
mod settings;
mod spool;

pub use base_material::{BaseMaterial, Nature};
pub use file_names::{FILE_NAME_VALUES, file_stem};
pub use kind::{HandSwap, MachineKind};
pub use material::{MATERIALS, Material, bed_c, bonds};
pub use passages::{PASSAGE_VALUES, Passages, filled};
pub use places::{CLEAR_MM, LIFT_MM_S, bin, park, there_and_back_s};
pub use print_settings::{PrintSetting, PrintSettingKind, print_settings, with_habit};
pub use printer::{HeadPart, Printer};
pub use printing::{Printing, ReadySet, Seam, SkinFill, SparseFill};
pub use profile::{Abilities, KindChoice, Mixes, Profile};
pub use rack_files::{rack_from_csv, rack_from_json, rack_to_csv, rack_to_json};
pub use settings::{SETTINGS, Setting, settings_table};
pub use spool::Spool;
