//! The wire types as TypeScript.

use super::*;
use std::path::Path;
use ts_rs::{Config, ExportError, TS};
use varichrom_core::advice::intake::Split;
use varichrom_core::drawing::{DrawingOptions, Flatwork, Stacking};
use varichrom_core::handover::{BodyDepth, outputs_as_typescript};
use varichrom_core::job::Contact;
use varichrom_core::limits::limits_as_typescript;
use varichrom_core::model::DefectPlace;
use varichrom_core::rehearsal::Answer;
use varichrom_core::rinse::Calibration;

/// Writes every type that travels to the browser or comes from it into a folder, and the limits of what is typed.
///
/// # Errors
/// What the folder cannot take.
pub fn export_types(folder: &Path) -> Result<(), ExportError> {
    /// Types that no other holds; what they hold is written with them.
    macro_rules! export {
        ($($root:ty),* $(,)?) => {
            let config = Config::from_env().with_out_dir(folder);
            $(<$root>::export_all(&config)?;)*
        };
    }
    export!(
        AddModels,
        AskCalibration,
        AskMixture,
        SetPrinterKey,
        Assemble,
        BodiesView,
        BodyDepth,
        Calibration,
        ChangePrinters,
        ChangeRack,
        Contact,
        DefectPlace,
        Answer,
        BeadsView,
        BeginRehearsal,
        LetGoWrong,
        People,
        RehearsalView,
        ReleaseView,
        Said,
        SendPrint,
        SentView,
        SetSpeed,
        WaitingJob,
        Shelving,
        StatusView,
        FileJob,
        KeptFileView,
        RewriteFiles,
        RewrittenView,
        SayOfFile,
        RunView,
        DepthsView,
        Desk,
        JobEvent,
        MovesView,
        PrintSettingsView,
        SetPrinting,
        JobSummary,
        JobView,
        KnownTime,
        LayerView,
        LoadView,
        MeetingsView,
        MendPreview,
        MixtureView,
        NotePrinted,
        Palettes,
        PlanView,
        PreviewView,
        PrintersView,
        RackImported,
        RackView,
        Replayed,
        ReviseModel,
        SheetView,
        SnagFacets,
        SnagsView,
        Split,
        StagedView,
        DrawingView,
        DrawnBodies,
        DrawingOptions,
        Flatwork,
        AskFlat,
        FlatView,
        LayDrawing,
        ReadWedge,
        StackedView,
        Stacking,
        WedgeView,
        Stand,
        StepsView,
        StrayView,
        TriedParts,
        TryParts,
        UsualSpool,
        WaysView,
    );
    std::fs::write(folder.join("limits.ts"), limits_as_typescript())?;
    std::fs::write(folder.join("outputs.ts"), outputs_as_typescript())?;
    Ok(())
}
