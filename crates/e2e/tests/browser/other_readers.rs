//! 3MF both ways against the 3MF Consortium's own library (PyPI `lib3mf`): it opens ours in strict mode, we open its.

use anyhow::{Context, Result};
use std::process::Command;
use varichrom_core::carve::refined;
use varichrom_core::job::{History, JobEdit, ModelEdit, Models};
use varichrom_core::mesh::Mesh;
use varichrom_core::model::OpenMesh;

const READ: &str = r#"
import sys, lib3mf
model = lib3mf.get_wrapper().CreateModel()
reader = model.QueryReader("3mf")
reader.SetStrictModeActive(True)
reader.ReadFromFile(sys.argv[1])
print("warnings", reader.GetWarningCount(), "unit", int(model.GetUnit()))
groups = model.GetColorGroups()
colours = {}
while groups.MoveNext():
    group = groups.GetCurrentColorGroup()
    for i in group.GetAllPropertyIDs():
        c = group.GetColor(i)
        colours[(group.GetResourceID(), i)] = '#%02x%02x%02x' % (c.Red, c.Green, c.Blue)
objects = model.GetMeshObjects()
while objects.MoveNext():
    mesh = objects.GetCurrentMeshObject()
    used = {}
    for p in mesh.GetAllTriangleProperties():
        colour = colours[(p.ResourceID, p.PropertyIDs[0])]
        used[colour] = used.get(colour, 0) + 1
    print(mesh.GetName(), mesh.GetTriangleCount(), mesh.IsManifoldAndOriented(), sorted(used.items()))
"#;

/// The Python that has the Consortium's library.
fn python() -> Result<String> {
    std::env::var("VARICHROM_PYTHON")
        .context("VARICHROM_PYTHON is not set: run the tests by `cargo xtask test`")
}

struct One(std::sync::Arc<OpenMesh>);

impl Models for One {
    fn open(&self, _: &str) -> Result<std::sync::Arc<OpenMesh>, varichrom_core::Problem> {
        Ok(self.0.clone())
    }

    fn bytes(&self, content: &str) -> Result<std::sync::Arc<Vec<u8>>, varichrom_core::Problem> {
        let missing = || varichrom_core::Problem::new("content-unknown", content, "", "");
        varichrom_demo::file_beside(content)
            .map(std::sync::Arc::new)
            .ok_or_else(missing)
    }
}

#[test]
fn the_consortiums_library_opens_our_3mf_without_a_warning() -> Result<()> {
    let python = python()?;
    let folder = tempfile::tempdir()?;
    for demo in varichrom_demo::demo_jobs() {
        let open = std::sync::Arc::new(OpenMesh::from_bytes(&demo.bytes)?);
        let mut edits = vec![
            varichrom_core::job::Edit::Job(JobEdit::RenameJob {
                name: "Tides & <lights>".into(),
            }),
            varichrom_core::job::Edit::Model(ModelEdit::OpenModel {
                model: demo.model.into(),
                file: demo.file.into(),
                content: "x".into(),
            }),
        ];
        edits.extend(demo.edits);
        let head = edits.len();
        let history = History::replay(edits, head, &One(open.clone()))?;
        let job = history.job();
        let file = folder.path().join("model.3mf");
        std::fs::write(&file, job.threemf(&[])?)?;
        let out = Command::new(&python)
            .args(["-c", READ])
            .arg(&file)
            .output()?;
        let text = String::from_utf8_lossy(&out.stdout).into_owned();
        assert!(
            out.status.success(),
            "{}",
            String::from_utf8_lossy(&out.stderr)
        );
        let mut lines = text.lines();
        assert_eq!(lines.next(), Some("warnings 0 unit 1"), "{text}");
        // Those that own overlaps go out first; which is which is told by their names.
        let mut found: Vec<String> = lines.map(str::to_string).collect();
        let mut expected = Vec::new();
        for (number, part) in job.models[0].parts.iter().enumerate() {
            let mut used = std::collections::BTreeMap::new();
            // What is handed over are the facets with their divisions carried out.
            let fine = refined(&job.models[0].open, &job.models[0].labels);
            let mut facets = 0;
            for (label, facet) in fine.labels.iter().zip(&fine.facet) {
                if job.models[0].open.part_of[*facet as usize] == number as u32 {
                    let region = job.region_of_label(0, *facet, *label) as usize;
                    let colour = job.regions[region].colour;
                    *used.entry(colour.to_string()).or_insert(0) += 1;
                    facets += 1;
                }
            }
            let listed: Vec<String> = used.iter().map(|(c, n)| format!("('{c}', {n})")).collect();
            expected.push(format!(
                "{} {} True [{}]",
                part.name,
                facets,
                listed.join(", ")
            ));
        }
        found.sort_unstable();
        expected.sort_unstable();
        assert_eq!(found, expected);
    }
    Ok(())
}

/// Meshes that are broken in every way that files are.
fn broken() -> Vec<(&'static str, Mesh)> {
    let sound = || varichrom_demo::box_mesh([0.0; 3], [10.0; 3]);
    let with = |change: &dyn Fn(&mut Mesh)| {
        let mut mesh = sound();
        change(&mut mesh);
        mesh
    };
    vec![
        (
            "a vertex twice",
            with(&|m| m.facets.extend([[0, 0, 1], [2, 3, 3], [4, 5, 4]])),
        ),
        ("a vertex three times", with(&|m| m.facets.push([1, 1, 1]))),
        (
            "corners in a line",
            with(&|m| {
                m.vertices.push([5.0, 0.0, 0.0]);
                m.facets.push([0, 8, 1]);
            }),
        ),
        (
            "corners in one place",
            with(&|m| {
                m.vertices.extend([[0.0; 3], [0.0; 3]]);
                m.facets.push([0, 8, 9]);
            }),
        ),
        ("a facet twice", with(&|m| m.facets.push(m.facets[0]))),
        ("a facet turned over", with(&|m| m.facets[3].reverse())),
        ("a hole", with(&|m| m.facets.truncate(11))),
        (
            "a fin",
            with(&|m| {
                m.vertices.push([5.0, 5.0, 20.0]);
                m.facets.push([4, 6, 8]);
            }),
        ),
        (
            "inside out",
            with(&|m| m.facets.iter_mut().for_each(|f| f.reverse())),
        ),
        (
            "loose flakes",
            with(&|m| {
                for at in 0..4 {
                    let first = m.vertices.len() as u32;
                    let x = 20.0 + f64::from(at);
                    m.vertices
                        .extend([[x, 0.0, 0.0], [x + 0.5, 0.0, 0.0], [x, 0.5, 1.0]]);
                    m.facets.push([first, first + 1, first + 2]);
                    m.facets.push([first, first, first + 2]);
                }
            }),
        ),
        (
            "a vertex nobody uses",
            with(&|m| m.vertices.push([99.0; 3])),
        ),
        (
            "far away",
            with(&|m| m.vertices.iter_mut().for_each(|p| p[0] += 1e6)),
        ),
        (
            "tiny",
            with(&|m| m.vertices.iter_mut().for_each(|p| *p = p.map(|c| c * 1e-5))),
        ),
    ]
}

#[test]
fn every_export_of_a_broken_mesh_opens_in_the_consortiums_library() -> Result<()> {
    let python = python()?;
    let folder = tempfile::tempdir()?;
    for (what, mesh) in broken() {
        // As an STL and as a file that keeps vertices as they are.
        let obj = {
            let vertices = mesh
                .vertices
                .iter()
                .map(|[x, y, z]| format!("v {x} {y} {z}\n"));
            let facets = mesh
                .facets
                .iter()
                .map(|[a, b, c]| format!("f {} {} {}\n", a + 1, b + 1, c + 1));
            vertices.chain(facets).collect::<String>().into_bytes()
        };
        for bytes in [varichrom_demo::stl(&mesh, what), obj] {
            let open = std::sync::Arc::new(
                OpenMesh::from_bytes(&bytes).map_err(|p| anyhow::anyhow!("{what}: {p}"))?,
            );
            let edits = vec![varichrom_core::job::Edit::Model(ModelEdit::OpenModel {
                model: what.into(),
                file: "broken".into(),
                content: "x".into(),
            })];
            let history = History::replay(edits, 1, &One(open.clone()))?;
            let file = folder.path().join("broken.3mf");
            std::fs::write(&file, history.job().threemf(&[])?)?;
            let out = Command::new(&python)
                .args(["-c", READ])
                .arg(&file)
                .output()?;
            let text = String::from_utf8_lossy(&out.stdout).into_owned();
            let said = String::from_utf8_lossy(&out.stderr).into_owned();
            assert!(out.status.success(), "{what}: {said}");
            assert!(text.starts_with("warnings 0 "), "{what}: {text}");
            // What encloses the box is all there.
            let facets: usize = text
                .lines()
                .skip(1)
                .filter_map(|l| {
                    let mut words = l
                        .split_whitespace()
                        .rev()
                        .skip_while(|w| *w != "True" && *w != "False")
                        .skip(1);
                    words.next()?.parse::<usize>().ok()
                })
                .sum();
            assert!(facets >= 11, "{what}: {text}");
        }
    }
    Ok(())
}

/// A box of 1 × 2 × 3 inches in two materials, twice: once as it is, once by a component that turns it about z by 90°
/// and moves it by 10 inches, with a title.
const WRITE: &str = r#"
import sys, lib3mf
from lib3mf import Position, Triangle, Transform, TriangleProperties
w = lib3mf.get_wrapper()
model = w.CreateModel()
model.SetUnit(lib3mf.ModelUnit.Inch)
model.GetMetaDataGroup().AddMetaData("", "Title", "Two blocks", "xs:string", True)
mesh = model.AddMeshObject()
mesh.SetName("Block")
def at(x, y, z):
    p = Position(); p.Coordinates[0], p.Coordinates[1], p.Coordinates[2] = x, y, z; return p
def tri(a, b, c):
    t = Triangle(); t.Indices[0], t.Indices[1], t.Indices[2] = a, b, c; return t
corners = [at(x, y, z) for z in (0, 3) for x, y in ((0, 0), (1, 0), (1, 2), (0, 2))]
facets = [tri(*f) for f in ((0,2,1),(0,3,2),(4,5,6),(4,6,7),(0,1,5),(0,5,4),(1,2,6),(1,6,5),(2,3,7),(2,7,6),(3,0,4),(3,4,7))]
mesh.SetGeometry(corners, facets)
base = model.AddBaseMaterialGroup()
clay = base.AddMaterial("Clay", w.RGBAToColor(200, 60, 40, 255))
glaze = base.AddMaterial("Glaze", w.RGBAToColor(20, 70, 130, 255))
mesh.SetObjectLevelProperty(base.GetResourceID(), clay)
for i in range(12):
    p = TriangleProperties(); p.ResourceID = base.GetResourceID()
    p.PropertyIDs[0] = p.PropertyIDs[1] = p.PropertyIDs[2] = glaze if i in (2, 3) else clay
    mesh.SetTriangleProperties(i, p)
group = model.AddComponentsObject()
turned = w.GetTranslationTransform(10, 0, 0)
turned.Fields[0][0], turned.Fields[0][1], turned.Fields[1][0], turned.Fields[1][1] = 0, 1, -1, 0
group.AddComponent(mesh, turned)
model.AddBuildItem(mesh, w.GetIdentityTransform())
model.AddBuildItem(group, w.GetIdentityTransform())
model.QueryWriter("3mf").WriteToFile(sys.argv[1])
"#;

#[test]
fn we_open_what_the_consortiums_library_writes() -> Result<()> {
    let python = python()?;
    let folder = tempfile::tempdir()?;
    let file = folder.path().join("blocks.3mf");
    let out = Command::new(&python)
        .args(["-c", WRITE])
        .arg(&file)
        .output()?;
    assert!(
        out.status.success(),
        "{}",
        String::from_utf8_lossy(&out.stderr)
    );
    let open = OpenMesh::from_bytes(&std::fs::read(&file)?)?;
    assert_eq!((open.origin.units.name, open.parts.len()), ("inch", 2));
    assert!(open.is_closed() && open.defects.is_empty());
    let inch = 25.4;
    assert!((open.volume_mm3() / (2.0 * 6.0 * inch * inch * inch) - 1.0).abs() < 1e-6);
    // Turned about z the block of 1 × 2 covers x 8…10 and y 0…1, in inches.
    let moved = open.parts[1].measures.bounds;
    for (got, wanted) in moved
        .min
        .iter()
        .chain(&moved.max)
        .zip([8.0, 0.0, 0.0, 10.0, 1.0, 3.0])
    {
        assert!((got - wanted * inch).abs() < 1e-3, "{moved:?}");
    }
    let colours = open.origin.colours.as_ref().context("colours")?;
    let named = |f: usize| colours.palette[colours.facets[f] as usize].name.as_str();
    assert_eq!(
        (named(0), named(2), named(3), named(14)),
        ("Clay", "Glaze", "Glaze", "Glaze")
    );
    let title = ("Title".to_string(), "Two blocks".to_string());
    assert!(
        open.origin.metadata.contains(&title),
        "{:?}",
        open.origin.metadata
    );
    assert_eq!(open.part_names[0].as_deref(), Some("Block"));
    Ok(())
}
