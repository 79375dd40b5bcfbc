//! A model as its file tells it, whatever the format: facets in mm, the pieces they come in, their colours, and what
//! was said beside the shape.

use super::pixels::{Pixels, is_picture};
use super::text::writable;
use crate::Problem;
use crate::colour::Colour;
use serde::{Deserialize, Serialize};
use std::collections::HashMap;

/// The length one unit of a file stands for.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Units {
    /// Name in words, such as `inch`.
    pub name: &'static str,
    /// Millimetres in one unit.
    pub mm: f64,
    /// Whether the file says so. If not, millimetres are assumed.
    pub is_stated: bool,
}

impl Units {
    /// Millimetres, because the file says nothing.
    pub const ASSUMED: Units = Units {
        name: "millimetre",
        mm: 1.0,
        is_stated: false,
    };
}

/// A run of facets that the file keeps together: an object, a group, a solid, a shape.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Piece {
    /// Its name; empty if the file gives none.
    pub name: String,
    /// Its first facet; it ends where the next piece begins.
    pub first_facet: u32,
}

/// Stands for "no colour" in [`FileColours::facets`].
pub const NO_COLOUR: u32 = u32::MAX;

/// A colour of a file.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct FileColour {
    /// Name of the material; empty if it has none.
    pub name: String,
    /// The colour.
    pub colour: Colour,
    /// The file names the material but its colour is not there, so this one is a stand-in.
    pub is_stand_in: bool,
    /// How much of what lies behind it hides, 0 to 1.
    pub opacity: f64,
}

/// The colours a file gives its facets.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
pub struct FileColours {
    /// The plain colours.
    pub palette: Vec<FileColour>,
    /// For each facet an index into the palette, or [`NO_COLOUR`].
    pub facets: Vec<u32>,
    /// Facets whose colour changes from corner to corner, ascending, with the corners' colours.
    pub varying: Vec<(u32, [Colour; 3])>,
    /// Pictures that lie over facets.
    pub pictures: Vec<SurfacePicture>,
    /// Facets under a picture, ascending.
    pub pictured: Vec<Pictured>,
}

/// A picture that a file lays over its surface.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct SurfacePicture {
    /// Name of its file.
    pub name: String,
    /// The file: PNG, JPEG or WebP.
    pub bytes: Vec<u8>,
}

/// A facet under a picture.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Pictured {
    /// The facet.
    pub facet: u32,
    /// Which picture, by its place in the list.
    pub picture: u16,
    /// Where its corners are on the picture: to the right and up, as shares of its width and height from its lower left corner.
    /// Beyond 0 and 1 the picture comes again.
    pub corners: [[f64; 2]; 3],
}

impl FileColours {
    /// Whether colours change within facets: from corner to corner, or by a picture.
    pub fn is_blended(&self) -> bool {
        !self.varying.is_empty() || !self.pictured.is_empty()
    }
}

/// Pictures that a file may lay over its surface.
pub(super) const MOST_PICTURES: usize = 256;

/// What a file says besides its shape.
#[derive(Debug, Clone, PartialEq)]
pub struct Origin {
    /// Format by content, such as `STL, binary`.
    pub format: &'static str,
    /// Its units.
    pub units: Units,
    /// The pieces, ascending; one at least when there are facets.
    pub pieces: Vec<Piece>,
    /// Whether pieces are bodies of their own even where they touch.
    pub keeps_pieces_apart: bool,
    /// Its colours, if it has any.
    pub colours: Option<FileColours>,
    /// Title, author and the like, as name and value.
    pub metadata: Vec<(String, String)>,
    /// What is in the file and could not be taken over, each a short sentence.
    pub left_out: Vec<String>,
}

impl Origin {
    /// What files of this format cannot say, in words (common practice, no source, for STL, OBJ and PLY; VRML97 states no
    /// units of its own and counts in metres by its standard).
    pub fn cannot_say(&self) -> &'static str {
        match self.format.split(',').next().unwrap_or_default() {
            "STL" if self.colours.is_some() => "units, parts",
            "STL" => "units, colours, parts",
            "OBJ" => "units",
            "PLY" => "units, part names",
            "VRML97" => "units other than metres",
            _ => "",
        }
    }

    /// One unnamed piece in assumed millimetres.
    pub fn plain(format: &'static str) -> Origin {
        Origin {
            format,
            units: Units::ASSUMED,
            pieces: vec![Piece {
                name: String::new(),
                first_facet: 0,
            }],
            keeps_pieces_apart: false,
            colours: None,
            metadata: Vec::new(),
            left_out: Vec::new(),
        }
    }
}

/// A file read: loose facets over numbered vertices, in mm.
#[derive(Debug, Clone, PartialEq)]
pub struct ModelFile {
    /// Positions in mm.
    pub vertices: Vec<[f64; 3]>,
    /// Three vertices per facet, counter-clockwise from outside.
    pub facets: Vec<[u32; 3]>,
    /// Everything else.
    pub origin: Origin,
}

/// Facets a file may hold or repeat its objects into: about two gigabytes once opened.
pub const MOST_FACETS: usize = 20_000_000;

/// Vertices a file may hold or repeat its objects into; loose facets have three each.
const MOST_VERTICES: usize = 3 * MOST_FACETS;

/// Pieces a file may come in.
pub(super) const MOST_PIECES: usize = 100_000;

/// Largest coordinate taken, in mm: ten kilometres.
pub const LARGEST_MM: f64 = 1.0e7;

/// Adds what could not be taken over, once.
pub(super) fn leave_out(notes: &mut Vec<String>, what: &str) {
    if !notes.iter().any(|n| n == what) {
        notes.push(what.into());
    }
}

/// What of a file was passed over because it cannot be used, counted, with the place of the first.
#[derive(Debug, Default)]
pub(super) struct PassedOver {
    kinds: Vec<(&'static str, &'static str, usize, String)>,
    /// The refusal for a file of which nothing else is left.
    first: Option<Problem>,
}

impl PassedOver {
    /// Counts one more. `one` and `more` name it, such as `face` and `faces`.
    pub(super) fn add(&mut self, (one, more): (&'static str, &'static str), why: Problem) {
        match self.kinds.iter_mut().find(|k| k.0 == one) {
            Some(kind) => kind.2 += 1,
            None => {
                let place = why.place.clone().unwrap_or_default();
                self.kinds.push((one, more, 1, place));
            }
        }
        self.first.get_or_insert(why);
    }

    /// The file as it was read, with what was passed over among what is left out; the first refusal if there is no facet.
    pub(super) fn told(self, read: Result<ModelFile, Problem>) -> Result<ModelFile, Problem> {
        match read {
            Ok(mut file) => {
                file.origin.left_out.extend(self.notes());
                Ok(file)
            }
            Err(refused) if refused.code == "no-facets" => Err(self.first.unwrap_or(refused)),
            Err(refused) => Err(refused),
        }
    }

    /// One note a kind.
    pub(super) fn notes(&self) -> Vec<String> {
        let note = |(one, more, count, place): &(&str, &str, usize, String)| {
            if *count == 1 {
                format!("a {one} that cannot be used ({place})")
            } else {
                format!("{count} {more} that cannot be used (the first: {place})")
            }
        };
        self.kinds.iter().map(note).collect()
    }
}

/// The refusal of a file that would grow past [`MOST_FACETS`] or [`MOST_PIECES`].
pub(super) fn too_much(what: &str, place: String) -> Problem {
    Problem::new(
        "model-too-large",
        format!("The file unfolds to more than {what}"),
        place,
        "Simplify the model, or take out repeated objects.",
    )
}

/// Collects facets and their colours in file order.
pub(super) struct Collector {
    pub(super) vertices: Vec<[f64; 3]>,
    pub(super) facets: Vec<[u32; 3]>,
    pieces: Vec<Piece>,
    colours: FileColours,
    /// By colour and opacity in 255ths.
    numbers: HashMap<(Colour, u8), u32>,
}

impl Collector {
    pub(super) fn new() -> Collector {
        Collector {
            vertices: Vec::new(),
            facets: Vec::new(),
            pieces: Vec::new(),
            colours: FileColours::default(),
            numbers: HashMap::new(),
        }
    }

    /// Begins a piece at the next facet. One without facets is dropped.
    pub(super) fn begin(&mut self, name: &str) {
        let first_facet = self.facets.len() as u32;
        let name = writable(name).chars().take(200).collect();
        match self.pieces.last_mut() {
            Some(last) if last.first_facet == first_facet => last.name = name,
            _ => self.pieces.push(Piece { name, first_facet }),
        }
    }

    /// Makes sure that `more` vertices may come.
    pub(super) fn check_room(
        &self,
        more: usize,
        place: impl Fn() -> String,
    ) -> Result<(), Problem> {
        if self.vertices.len() + more > MOST_VERTICES {
            return Err(too_much("60 million vertices", place()));
        }
        Ok(())
    }

    pub(super) fn pieces(&self) -> usize {
        self.pieces.len()
    }

    /// Number of a plain unnamed colour.
    pub(super) fn plain(&mut self, colour: Colour) -> u32 {
        self.clear(colour, 1.0)
    }

    /// Number of an unnamed colour that hides so much of what lies behind it, 0 to 1.
    pub(super) fn clear(&mut self, colour: Colour, opacity: f64) -> u32 {
        let palette = &mut self.colours.palette;
        let key = (colour, (255.0 * opacity).round() as u8);
        *self.numbers.entry(key).or_insert_with(|| {
            palette.push(FileColour {
                name: String::new(),
                colour,
                is_stand_in: false,
                opacity,
            });
            palette.len() as u32 - 1
        })
    }

    /// Number of a new named colour.
    pub(super) fn named(&mut self, colour: FileColour) -> u32 {
        self.colours.palette.push(colour);
        self.colours.palette.len() as u32 - 1
    }

    /// The colour of a named one, once it is known.
    pub(super) fn recolour(&mut self, number: u32, colour: Colour, opacity: f64) {
        let named = &mut self.colours.palette[number as usize];
        (named.colour, named.opacity, named.is_stand_in) = (colour, opacity, false);
    }

    /// Adds a facet without colour.
    pub(super) fn add(&mut self, facet: [u32; 3]) {
        self.facets.push(facet);
    }

    /// Adds a facet in a colour of the palette.
    pub(super) fn add_in(&mut self, facet: [u32; 3], colour: u32) {
        self.colours.facets.resize(self.facets.len(), NO_COLOUR);
        self.colours.facets.push(colour);
        self.facets.push(facet);
    }

    /// Adds a facet with a colour for each corner.
    pub(super) fn add_blend(&mut self, facet: [u32; 3], corners: [Colour; 3]) {
        if corners[0] == corners[1] && corners[1] == corners[2] {
            let colour = self.plain(corners[0]);
            return self.add_in(facet, colour);
        }
        self.colours
            .varying
            .push((self.facets.len() as u32, corners));
        self.add(facet);
    }

    /// Number of a picture of a file, if it can be read.
    ///
    /// # Errors
    /// Why not, to be told among what is left out.
    pub(super) fn picture(&mut self, path: &str, bytes: Option<Vec<u8>>) -> Result<u16, String> {
        let name = path.rsplit(['/', '\\']).next().unwrap_or(path);
        let name: String = writable(name).chars().take(200).collect();
        let told = |why: &str| format!("the picture {name}: {why}");
        let Some(bytes) = bytes else {
            return Err(told(
                "it was not there; choose it together with the model's file",
            ));
        };
        if self.colours.pictures.len() >= MOST_PICTURES {
            return Err(told("the file has more than 256 of them"));
        }
        if !is_picture(&bytes) {
            return Err(told("it is no PNG, JPEG or WebP"));
        }
        if let Err(problem) = Pixels::read(&bytes) {
            return Err(told(&problem.message));
        }
        self.colours.pictures.push(SurfacePicture { name, bytes });
        Ok(self.colours.pictures.len() as u16 - 1)
    }

    /// Lays a picture over a facet that was added, instead of the colour it has.
    pub(super) fn lay(&mut self, facet: u32, picture: u16, corners: [[f64; 2]; 3]) {
        if let Some(colour) = self.colours.facets.get_mut(facet as usize) {
            *colour = NO_COLOUR;
        }
        self.colours.pictured.push(Pictured {
            facet,
            picture,
            corners,
        });
    }

    /// The file, if it holds any facet.
    pub(super) fn finish(mut self, mut origin: Origin) -> Result<ModelFile, Problem> {
        if self.facets.is_empty() {
            return Err(Problem::new(
                "no-facets",
                "The file holds no facets",
                "",
                "Check that the model was selected when it was exported.",
            ));
        }
        while self
            .pieces
            .last()
            .is_some_and(|p| p.first_facet as usize == self.facets.len())
        {
            self.pieces.pop();
        }
        if self.pieces.first().is_none_or(|p| p.first_facet > 0) {
            self.pieces.insert(
                0,
                Piece {
                    name: String::new(),
                    first_facet: 0,
                },
            );
        }
        let colours = &mut self.colours;
        colours.pictured.sort_by_key(|p| p.facet);
        colours.pictured.dedup_by_key(|p| p.facet);
        // A picture goes over what blends below it.
        let is_bare = |(f, _): &(u32, [Colour; 3])| {
            colours
                .pictured
                .binary_search_by_key(f, |p| p.facet)
                .is_err()
        };
        colours.varying.retain(is_bare);
        if colours.is_blended() || colours.facets.iter().any(|c| *c != NO_COLOUR) {
            self.colours.facets.resize(self.facets.len(), NO_COLOUR);
            origin.colours = Some(self.colours);
        }
        origin.pieces = self.pieces;
        Ok(ModelFile {
            vertices: self.vertices,
            facets: self.facets,
            origin,
        })
    }
}
