/* Made from openapi.json by scripts/types; do not edit. */

export type paths = Record<string, never>;
export type webhooks = Record<string, never>;
export interface components {
    schemas: {
        "Certificate.Authority": {
            certificate: string;
            /** Format: date-time */
            createdAt: string;
            /** Format: date-time */
            expiresAt: string;
            id: string;
            key: string;
            /** Format: int64 */
            listNumber: number;
            /** Format: date-time */
            listUntil: string;
            name: string;
            publishesAt: string | null;
            /** Format: int32 */
            revoked: number;
        };
        "Certificate.Certificate": {
            authority: string;
            commonName: string;
            custody: string;
            /** Format: date-time */
            expiresAt: string;
            id: string;
            names: string[];
            purpose: string;
            /** Format: date-time */
            revokedAt: string | null;
            serial: string;
            state: string;
            /** Format: date-time */
            validFrom: string;
        };
        "Certificate.Lifetimes": {
            /** Format: int32 */
            clientDays: number;
            /** Format: int32 */
            listenerDays: number;
            /** Format: int32 */
            renewedListenerDays: number;
            /** Format: int32 */
            revocationListDays: number;
        };
        "Certificate.Signed": {
            certificate: components["schemas"]["Certificate.Certificate"];
            keyStore: string | null;
            pem: string;
        };
        Change: {
            change: string;
        } & {
            [key: string]: unknown;
        };
        "Change-nullable": null | components["schemas"]["Change"];
        "Change.Affected": {
            differences: components["schemas"]["Change.Difference"][];
            fate: string;
            label: string;
            person: string;
            profileId: string;
        };
        "Change.ChangeSet": {
            changes: components["schemas"]["Change.DeviceChange"][];
            /** Format: date-time */
            endedAt: string | null;
            id: string;
            note: string;
            /** Format: date-time */
            orderedAt: string;
            state: string;
        };
        "Change.DeviceChange": {
            armedOnDevice: boolean;
            /** Format: date-time */
            endedAt: string | null;
            gateway: string;
            id: string;
            note: string;
            /** Format: date-time */
            orderedAt: string;
            /** Format: date-time */
            removeAt: string | null;
            removeWhenUnused: string | null;
            /** Format: date-time */
            revertAt: string | null;
            state: string;
            usersLeft: string[];
            words: string;
        };
        "Change.Difference": {
            becomes: string;
            field: string;
            was: string;
        };
        "Change.Drift": {
            becomes: string;
            field: string;
            /** Format: date-time */
            lastSeenOtherwiseAt: string | null;
            noted: boolean;
            /** Format: date-time */
            seenAt: string;
            was: string;
        };
        "Change.ExplainedListener": {
            name: string;
            protocol: string;
            settings: components["schemas"]["Change.ExplainedSetting"][];
        };
        "Change.ExplainedSetting": {
            clientsDepend: boolean;
            costs: string;
            does: string;
            knownFrom: components["schemas"]["Change.KnownFrom"][];
            restart: string;
            safe: string;
            setting: string;
            value: string;
        };
        "Change.Facts": {
            accounts: string[];
            drift: components["schemas"]["Change.Drift"][];
            facts: {
                [key: string]: string;
            };
            forwards: string[];
            interfaces: string[];
            listeners: components["schemas"]["Change.ExplainedListener"][];
            networks: string[];
            rules: string[];
            uplinks: string[];
        };
        "Change.KnownFrom": {
            /** Format: date-time */
            at: string;
            source: string;
            value: string;
        };
        "Change.Log": {
            lines: string[];
        };
        "Change.MemberPreview": {
            gateway: string;
            preview: components["schemas"]["Change.Preview"];
        };
        "Change.Ordered": {
            change: components["schemas"]["Change.DeviceChange"];
            jobId: string | null;
        };
        "Change.OrderedSet": {
            jobId: string;
            set: components["schemas"]["Change.ChangeSet"];
        };
        "Change.Preview": {
            affected: components["schemas"]["Change.Affected"][];
            appears: components["schemas"]["Watch.Finding"][];
            byHand: boolean;
            cutOff: string[];
            guarded: boolean;
            restart: string;
            restartWords: string;
            vanishes: components["schemas"]["Watch.Finding"][];
            words: string[];
            /** Format: int32 */
            works: number;
        };
        "Change.SetPreview": {
            members: components["schemas"]["Change.MemberPreview"][];
        };
        "Departure.Departure": {
            device: string | null;
            handle: string;
            id: string;
            /** Format: int32 */
            open: number;
            /** Format: date-time */
            orderedAt: string;
            orderedBy: string;
            person: string;
            /** Format: int32 */
            profiles: number;
        };
        "Departure.Ending": {
            connected: boolean;
            gateway: string;
            how: string;
            listener: string;
            profile: string;
            profileId: string;
        };
        "Departure.Plan": {
            departureId: string | null;
            device: string | null;
            endings: components["schemas"]["Departure.Ending"][];
            handle: string;
            person: string;
            secrets: string[];
        };
        "Departure.Refusal": {
            /** Format: date-time */
            checkedAt: string | null;
            control: string | null;
            /** Format: date-time */
            endedAt: string | null;
            found: string | null;
            gateway: string;
            listener: string;
            profile: string;
            profileId: string;
            shown: string;
            state: string;
        };
        "Departure.Shown": {
            departure: components["schemas"]["Departure.Departure"];
            refusals: components["schemas"]["Departure.Refusal"][];
        };
        "Expiry.Expiry": {
            /** Format: date-time */
            expiresAt: string;
            gateway: string | null;
            id: string;
            kind: string;
            mail: string | null;
            state: string;
            tell: string | null;
            /** Format: date-time */
            validFrom: string | null;
            what: string;
        };
        "FileRequest.FileRequest": {
            /** Format: date-time */
            askedAt: string;
            askedBy: string;
            device: string;
            /** Format: date-time */
            ends: string | null;
            gateway: string;
            id: string;
            person: string;
            reason: string;
            replaces: string | null;
            user: string;
        };
        "FileRequest.FileRequests": {
            instructions: string[];
            requests: components["schemas"]["FileRequest.FileRequest"][];
        };
        "Grant.Grant": {
            behind: string[];
            dns: string[];
            fullTunnel: boolean;
            gateway: string;
            id: string;
            listener: string;
            reach: string[];
            /** Format: date-time */
            setAt: string;
            team: string;
            /** Format: int32 */
            validDays: number | null;
        };
        "Handout.Handout": {
            /** Format: date-time */
            collectedAt: string | null;
            /** Format: int32 */
            collectionsAllowed: number;
            /** Format: int32 */
            collectionsLeft: number;
            device: string | null;
            digest: string;
            /** Format: date-time */
            expiresAt: string;
            fileName: string;
            gateway: string;
            id: string;
            /** Format: date-time */
            lastSeen: string | null;
            person: string | null;
            personName: string | null;
            /** Format: date-time */
            preparedAt: string;
            profile: string;
            /** Format: int32 */
            revision: number;
            /** Format: date-time */
            sentAt: string | null;
            state: string;
            /** Format: int32 */
            version: number;
        };
        "Handout.LinksEnded": {
            /** Format: int32 */
            links: number;
        };
        "Handout.Prepared": {
            handout: components["schemas"]["Handout.Handout"];
            /** Format: password */
            link: string;
            /** Format: password */
            passphrase: string;
        };
        "Handout.PreparedMany": {
            fit: string[];
            prepared: components["schemas"]["Handout.Prepared"][];
            unfit: components["schemas"]["Handout.Unfit"][];
        };
        "Handout.Reason": {
            code: string;
            detail: string;
            fix: string;
            words: string;
        };
        "Handout.Unfit": {
            profile: string;
            reasons: components["schemas"]["Handout.Reason"][];
        };
        "Import.File": {
            device: string | null;
            matchedBy: string | null;
            notes: components["schemas"]["Inspect.Note"][];
            path: string;
            person: string | null;
            profile: string | null;
            repairs: components["schemas"]["Import.Repair"][];
            state: string;
            why: string;
        };
        "Import.Imported": {
            /** Format: int32 */
            asked: number;
            files: components["schemas"]["Import.File"][];
            /** Format: int32 */
            imported: number;
        };
        "Import.NewDevice": {
            exists: boolean;
            kind: string;
            name: string;
        };
        "Import.NewGateway": {
            calls: string[];
            exists: boolean;
            /** Format: int32 */
            files: number;
            kind: string;
            listeners: components["schemas"]["Import.NewListener"][];
            name: string;
            proposed: string;
            site: string;
        };
        "Import.NewListener": {
            name: string;
            protocol: string;
            settings: {
                [key: string]: string;
            };
        };
        "Import.NewPerson": {
            devices: components["schemas"]["Import.NewDevice"][];
            exists: boolean;
            handle: string;
            name: string;
        };
        "Import.NewSite": {
            exists: boolean;
            name: string;
            networks: {
                [key: string]: string;
            };
        };
        "Import.OtherFile": {
            kind: string;
            path: string;
        };
        "Import.PlacedFile": {
            file: components["schemas"]["Import.File"];
            gateway: string;
            listener: string | null;
        };
        "Import.Proposed": {
            dryRun: boolean;
            files: components["schemas"]["Import.PlacedFile"][];
            gateways: components["schemas"]["Import.NewGateway"][];
            /** Format: int32 */
            imported: number;
            others: components["schemas"]["Import.OtherFile"][];
            people: components["schemas"]["Import.NewPerson"][];
            /** Format: int32 */
            present: number;
            sites: components["schemas"]["Import.NewSite"][];
        };
        "Import.Repair": {
            after: string;
            before: string;
            /** Format: int32 */
            line: number;
            reason: string;
            rule: string;
        };
        "Inspect.Certificate": {
            issuer: string;
            key: string;
            name: string;
            names: string[];
            role: string;
            /** Format: date-time */
            validFrom: string;
            /** Format: date-time */
            validUntil: string;
        };
        "Inspect.Fact": {
            label: string;
            value: string;
        };
        "Inspect.Inspection": {
            certificates: components["schemas"]["Inspect.Certificate"][];
            /** Format: int32 */
            depth: number;
            facts: components["schemas"]["Inspect.Fact"][];
            kind: string;
            name: string;
            notes: components["schemas"]["Inspect.Note"][];
            title: string;
        };
        "Inspect.Note": {
            code: string;
            detail: string;
            /** Format: int32 */
            line: number;
            remedy: string;
            says: string;
            severity: string;
        };
        "Inspect.Report": {
            asksPassphrase: boolean;
            files: components["schemas"]["Inspect.Inspection"][];
            verdict: components["schemas"]["Inspect.Verdict"];
        };
        "Inspect.Verdict": {
            verdict: string;
            words: string;
        };
        "Instruction.Checked": {
            done: boolean;
            found: string;
        };
        "Instruction.Instruction": {
            /** Format: date-time */
            askedAt: string;
            askedOf: string | null;
            gateway: string;
            gatewayId: string;
            id: string;
            kind: string;
            orderedBy: string | null;
            profileId: string | null;
            said: boolean;
            /** Format: date-time */
            sentAt: string | null;
            subject: string;
            words: string;
        };
        "Instruction.Sent": {
            /** Format: int32 */
            instructions: number;
            to: string;
        };
        "Instruction.Shown": {
            check: string;
            cuts: string;
            instruction: components["schemas"]["Instruction.Instruction"];
            texts: components["schemas"]["Instruction.Text"][];
            values: components["schemas"]["Instruction.Value"][];
            what: string;
            why: string;
        };
        "Instruction.Text": {
            label: string;
            /** Format: password */
            text: string;
        };
        "Instruction.Value": {
            label: string;
            value: string;
        };
        "Key.Rotation": {
            /** Format: date-time */
            endedAt: string | null;
            keyId: string;
            orderedBy: string;
            /** Format: date-time */
            startedAt: string;
            state: string;
        };
        "Monitor.AllSet": {
            /** Format: int32 */
            listeners: number;
        };
        "Monitor.Counts": {
            /** Format: int32 */
            couldBeTried: number;
            /** Format: int32 */
            notMonitored: number;
            /** Format: int32 */
            notProven: number;
            /** Format: int32 */
            proven: number;
            /** Format: int32 */
            waiting: number;
        };
        "Monitor.Monitor": {
            cause: string | null;
            /** Format: double */
            day: number | null;
            /** Format: int32 */
            everySeconds: number | null;
            gateway: string;
            id: string;
            latest: components["schemas"]["Monitor.Result"][];
            listener: string;
            /** Format: double */
            month: number | null;
            /** Format: date-time */
            nextAt: string | null;
            protocol: string;
            proven: boolean | null;
            quietFrom: string | null;
            quietTo: string | null;
            rung: string | null;
            /** Format: date-time */
            since: string | null;
            trialId: string | null;
            verdict: string | null;
        };
        "Monitor.Result": {
            /** Format: date-time */
            at: string;
            /** Format: double */
            echoMillis: number | null;
            /** Format: int32 */
            millis: number;
            proven: boolean;
            rung: string | null;
            verdict: string;
        };
        "Office.Description": {
            approved: boolean;
            can: string[];
            commands: string[];
            digest: string;
            files: string[];
            name: string;
            shipped: boolean;
            title: string;
        };
        "Office.FindingCounts": {
            /** Format: int32 */
            errors: number;
            /** Format: int32 */
            notices: number;
            /** Format: int32 */
            warnings: number;
        };
        "Office.Gateway": {
            address: string;
            capabilities: string[];
            connector: string;
            contact: string | null;
            /** Format: date-time */
            createdAt: string;
            description: string;
            factory: string;
            findings: components["schemas"]["Office.FindingCounts"];
            hosts: string[];
            id: string;
            identity: string;
            identityAccepted: boolean;
            insideHost: string | null;
            jump: string | null;
            kind: string;
            listeners: components["schemas"]["Office.Listener"][];
            make: string;
            model: string;
            name: string;
            newestBackup: components["schemas"]["Office.NewestBackup-nullable"];
            /** Format: int32 */
            port: number;
            /** Format: date-time */
            readAt: string | null;
            readOnly: boolean;
            readProblem: string | null;
            release: string;
            signIn: string;
            site: string;
            uplinks: string[];
            use: components["schemas"]["Office.Use"];
            user: string;
            /** Format: int32 */
            version: number;
        };
        "Office.Listener": {
            active: boolean;
            endpoint: string | null;
            gone: boolean;
            id: string;
            insideAddress: string | null;
            name: string;
            /** Format: int32 */
            peers: number;
            /** Format: int32 */
            port: number;
            protocol: string;
            publicKey: string;
            transport: string;
            tunnels: string[];
        };
        "Office.NewestBackup": {
            id: string;
            /** Format: int32 */
            number: number;
            /** Format: date-time */
            takenAt: string;
        };
        "Office.NewestBackup-nullable": null | components["schemas"]["Office.NewestBackup"];
        "Office.ReadAll": {
            jobs: components["schemas"]["Office.ReadJob"][];
        };
        "Office.ReadJob": {
            gateway: string;
            jobId: string;
        };
        "Office.Recognised": {
            descriptions: components["schemas"]["Office.Recognition"][];
            proposed: string;
        };
        "Office.Recognition": {
            description: string;
            fits: boolean;
            found: string[];
            missing: string[];
            title: string;
        };
        "Office.Site": {
            domain: string;
            id: string;
            name: string;
            networks: {
                [key: string]: string;
            };
            timeZone: string;
            title: string;
            /** Format: int32 */
            version: number;
        };
        "Office.Use": {
            /** Format: int32 */
            connected: number;
            /** Format: int32 */
            people: number;
            /** Format: int32 */
            profiles: number;
            /** Format: int32 */
            toDo: number;
        };
        "Operator.CodeSeed": {
            /** Format: password */
            link: string;
            /** Format: password */
            seed: string;
        };
        "Operator.FreshUntil": {
            /** Format: date-time */
            until: string;
        };
        "Operator.Operator": {
            disabled: boolean;
            enrolNeeded: boolean;
            hasCode: boolean;
            mustChangePassword: boolean;
            name: string;
            role: string;
        };
        "Operator.SignedIn": {
            /** Format: date-time */
            expiresAt: string;
            operator: components["schemas"]["Operator.Operator"];
            /** Format: password */
            token: string | null;
        };
        "Operator.Token": {
            /** Format: date-time */
            createdAt: string;
            /** Format: date-time */
            expiresAt: string;
            id: string;
            kind: string;
            label: string;
            scope: string;
            thisOne: boolean;
        };
        "Person.Device": {
            id: string;
            kind: string;
            name: string;
            system: string;
        };
        "Person.Imported": {
            /** Format: int32 */
            changed: number;
            changes: components["schemas"]["Person.ImportedLine"][];
            /** Format: int32 */
            devices: number;
            dryRun: boolean;
            gone: string[];
            /** Format: int32 */
            people: number;
            /** Format: int32 */
            unchanged: number;
        };
        "Person.ImportedLine": {
            device: string;
            fields: string[];
            handle: string;
            /** Format: int32 */
            line: number;
            state: string;
        };
        "Person.Language": {
            code: string;
            name: string;
        };
        "Person.Person": {
            /** Format: date-time */
            createdAt: string;
            /** Format: int32 */
            deviceCount: number;
            devices: components["schemas"]["Person.Device"][];
            handle: string;
            id: string;
            language: string | null;
            mail: string;
            name: string;
            profiles: components["schemas"]["Profile.Profile"][];
            team: string | null;
            /** Format: int32 */
            version: number;
        };
        "Person.Team": {
            name: string;
            /** Format: int32 */
            people: number;
        };
        Problem: {
            code: string;
            detail: string;
            place: string;
            remedy: string;
            /** Format: int32 */
            status: number;
            title: string;
            type: string;
        };
        "Profile.Identity": {
            kind: string;
            value: string;
        };
        "Profile.Inside": {
            fileName: string;
            lines: string[];
            /** Format: int32 */
            number: number;
            words: components["schemas"]["Inspect.Report"];
        };
        "Profile.Issued": {
            jobId: string | null;
            profile: components["schemas"]["Profile.Profile"];
        };
        "Profile.IssuedMany": {
            issued: string[];
            jobId: string | null;
            present: string[];
        };
        "Profile.Profile": {
            addresses: string[];
            connected: boolean;
            /** Format: date-time */
            createdAt: string;
            custody: string;
            device: string | null;
            dns: string[];
            fullTunnel: boolean;
            gateway: string;
            handout: string | null;
            id: string;
            identity: components["schemas"]["Profile.Identity"];
            instruction: string | null;
            label: string;
            /** Format: date-time */
            lastHeard: string | null;
            listener: string;
            origin: string;
            person: string | null;
            personName: string | null;
            problem: string | null;
            proof: components["schemas"]["Profile.Proof"];
            reach: string[];
            /** Format: int32 */
            revision: number;
            revisions: components["schemas"]["Profile.Revision"][];
            state: string;
            /** Format: int32 */
            version: number;
        };
        "Profile.Proof": {
            /** Format: date-time */
            at: string | null;
            restsOn: string;
            state: string;
        };
        "Profile.Revision": {
            /** Format: date-time */
            createdAt: string;
            digest: string;
            fileName: string;
            id: string;
            madeFor: {
                [key: string]: string;
            };
            /** Format: int32 */
            number: number;
        };
        "Provision.Created": {
            files: components["schemas"]["Provision.File"][];
            notes: string[];
            signer: string;
        };
        "Provision.Enrolment": {
            /** Format: int32 */
            current: number;
            device: string;
            /** Format: int32 */
            failing: number;
            found: string | null;
            id: string;
            /** Format: date-time */
            joinedAt: string;
            person: string;
            problem: string | null;
            /** Format: int32 */
            profiles: number;
            /** Format: int32 */
            proven: number;
            /** Format: date-time */
            seenAt: string;
            state: string;
            system: string;
        };
        "Provision.File": {
            codes: {
                [key: string]: string;
            };
            device: string | null;
            /** Format: date-time */
            ends: string;
            /** Format: password */
            file: string | null;
            fileName: string;
            gateways: string[];
            id: string | null;
            team: string | null;
        };
        "Provision.Provision": {
            asksCode: boolean;
            /** Format: date-time */
            createdAt: string;
            createdBy: string;
            device: string | null;
            /** Format: date-time */
            ends: string;
            id: string;
            /** Format: int32 */
            joined: number;
            state: string;
            team: string | null;
        };
        "Removal.Preview": {
            effects: string[];
            obstacles: string[];
            what: string;
        };
        "Trial.Cause": {
            certainty: string;
            code: string;
            remedy: string;
            what: string;
        };
        "Trial.Claim": {
            kind: string;
            shown: boolean;
            words: string;
        };
        "Trial.Exit": {
            asClaimed: boolean;
            direct: string | null;
            full: boolean;
            through: string | null;
            words: string;
        };
        "Trial.Exit-nullable": null | components["schemas"]["Trial.Exit"];
        "Trial.Handed": {
            task: components["schemas"]["Trial.Task-nullable"];
        };
        "Trial.InsideName": {
            address: string | null;
            answered: boolean;
            name: string;
            server: string;
        };
        "Trial.InsideName-nullable": null | components["schemas"]["Trial.InsideName"];
        "Trial.Measured": {
            /** Format: int32 */
            echoes: number;
            exit: components["schemas"]["Trial.Exit-nullable"];
            /** Format: int32 */
            largestPacket: number | null;
            /** Format: double */
            leastMillis: number;
            /** Format: double */
            lostPercent: number;
            /** Format: double */
            meanMillis: number;
            /** Format: double */
            mostMillis: number;
            name: components["schemas"]["Trial.InsideName-nullable"];
            transfer: components["schemas"]["Trial.Transfer-nullable"];
        };
        "Trial.Measured-nullable": null | components["schemas"]["Trial.Measured"];
        "Trial.Probe": {
            authorities: string[];
            host: string;
            kind: string;
            name: string | null;
            /** Format: int32 */
            port: number;
        };
        "Trial.Probe-nullable": null | components["schemas"]["Trial.Probe"];
        "Trial.Reported": {
            note: string | null;
            trialId: string | null;
        };
        "Trial.Rung": {
            causes: components["schemas"]["Trial.Cause"][];
            detail: string;
            meaning: string;
            /** Format: int64 */
            millis: number;
            rung: string;
            verdict: string;
        };
        "Trial.Task": {
            /** Format: password */
            content: string | null;
            /** Format: int32 */
            echoes: number;
            insideHost: string | null;
            insideName: string | null;
            outside: string | null;
            /** Format: password */
            password: string | null;
            probe: components["schemas"]["Trial.Probe-nullable"];
            size: boolean;
            subject: string;
            trialId: string;
            user: string | null;
        };
        "Trial.Task-nullable": null | components["schemas"]["Trial.Task"];
        "Trial.Transfer": {
            /** Format: int64 */
            bytes: number;
            /** Format: double */
            megabits: number;
            /** Format: double */
            millis: number;
            words: string;
        };
        "Trial.Transfer-nullable": null | components["schemas"]["Trial.Transfer"];
        "Trial.Trial": {
            claims: components["schemas"]["Trial.Claim"][];
            /** Format: date-time */
            createdAt: string;
            /** Format: date-time */
            endedAt: string | null;
            gateway: string;
            id: string;
            measured: components["schemas"]["Trial.Measured-nullable"];
            note: string | null;
            person: string | null;
            profile: string;
            proven: boolean | null;
            restsOn: string;
            result: string;
            rungNow: string | null;
            rungs: components["schemas"]["Trial.Rung"][];
            state: string;
            subject: string;
            vantage: string;
            verdict: string | null;
        };
        "Trial.Vantage": {
            /** Format: date-time */
            heardAt: string | null;
            kind: string;
            name: string;
            /** Format: int64 */
            trials: number;
        };
        "Walk.Choice": {
            protocol: string;
            speaksAgainst: string[];
            speaksFor: string[];
            title: string;
            weak: boolean;
        };
        "Walk.Chosen": {
            items: components["schemas"]["Walk.Choice"][];
        };
        "Walk.Hop": {
            decidedBy: string;
            detail: string;
            hop: string;
            place: string;
            remedy: string | null;
            remedyChange: components["schemas"]["Change-nullable"];
            remedyGateway: string | null;
            verdict: string;
        };
        "Walk.LogExplained": {
            meanings: components["schemas"]["Walk.LogMeaning"][];
        };
        "Walk.LogMeaning": {
            certainty: string;
            code: string;
            /** Format: int32 */
            line: number;
            remedy: string;
            rung: string;
            said: string;
            what: string;
        };
        "Walk.Need": {
            need: string;
            words: string;
        };
        "Walk.NetworkWords": {
            broadcast: string | null;
            firstUsable: string;
            lastUsable: string;
            leased: string;
            mask: string | null;
            network: string;
            notes: string[];
            /** Format: int32 */
            reserved: number;
            rest: string;
            usable: string;
        };
        "Walk.Path": {
            failsAt: string | null;
            hops: components["schemas"]["Walk.Hop"][];
            passes: boolean;
            remedy: string | null;
        };
        "Walk.PortSpec": {
            kind: string;
            notes: string;
            reachedBy: string;
        };
        "Walk.Setting": {
            clientsDepend: boolean;
            costs: string;
            does: string;
            restart: string;
            safe: string;
            setting: string;
        };
        "Walk.Sheet": {
            links: components["schemas"]["Walk.SheetLink"][];
            overlaps: components["schemas"]["Walk.SheetOverlap"][];
            sites: components["schemas"]["Walk.SheetSite"][];
        };
        "Walk.SheetGateway": {
            breaks: boolean;
            /** Format: int32 */
            findings: number;
            id: string;
            kind: string;
            listeners: components["schemas"]["Walk.SheetListener"][];
            name: string;
            uplink: string;
        };
        "Walk.SheetLink": {
            from: string;
            kind: string;
            to: string;
        };
        "Walk.SheetListener": {
            name: string;
            port: string;
            /** Format: int32 */
            profiles: number;
            protocol: string;
            tunnels: string[];
        };
        "Walk.SheetNetwork": {
            name: string;
            network: string;
        };
        "Walk.SheetOverlap": {
            one: string;
            other: string;
            words: string;
        };
        "Walk.SheetSite": {
            domain: string;
            gateways: components["schemas"]["Walk.SheetGateway"][];
            name: string;
            networks: components["schemas"]["Walk.SheetNetwork"][];
            title: string;
        };
        "Watch.Area": {
            /** Format: int64 */
            count: number;
            key: string;
            label: string;
            /** Format: int64 */
            waiting: number;
            worst: string;
        };
        "Watch.Attention": {
            action: string;
            /** Format: int64 */
            count: number;
            kind: string;
            words: string;
        };
        "Watch.Backup": {
            /** Format: int64 */
            bytes: number;
            differences: components["schemas"]["Watch.Difference"][];
            digest: string;
            /** Format: int32 */
            files: number;
            gateway: string;
            id: string;
            /** Format: int32 */
            number: number;
            reason: string;
            release: string;
            settings: components["schemas"]["Watch.SettingDifference"][];
            /** Format: date-time */
            takenAt: string;
        };
        "Watch.Chain": {
            /** Format: int64 */
            firstBroken: number | null;
            head: components["schemas"]["Watch.Head"];
            headHolds: boolean | null;
            whole: boolean;
        };
        "Watch.Difference": {
            kind: string;
            /** Format: int32 */
            linesAdded: number;
            /** Format: int32 */
            linesRemoved: number;
            path: string;
        };
        "Watch.Finding": {
            acceptedReason: string | null;
            /** Format: date-time */
            acceptedUntil: string | null;
            breaks: string;
            code: string;
            evidence: string;
            gateway: string | null;
            key: string;
            oneStep: string | null;
            remedy: string;
            severity: string;
            subject: string;
            subjectId: string;
            subjectKind: string;
        };
        "Watch.Head": {
            hash: string;
            /** Format: int64 */
            number: number;
        };
        "Watch.Health": {
            node: string;
            state: string;
            version: string;
        };
        "Watch.Hit": {
            detail: string;
            id: string;
            kind: string;
            label: string;
        };
        "Watch.Job": {
            /** Format: int32 */
            attempts: number;
            /** Format: date-time */
            createdAt: string;
            /** Format: date-time */
            endedAt: string | null;
            id: string;
            kind: string;
            note: string;
            /** Format: int32 */
            progress: number;
            state: string;
            subject: string | null;
        };
        "Watch.JournalEntry": {
            action: string;
            actor: string;
            /** Format: date-time */
            at: string;
            detail: string;
            hash: string;
            /** Format: int64 */
            number: number;
            subjectId: string;
            subjectKind: string;
            what: string;
            who: string;
        };
        "Watch.Overview": {
            areas: components["schemas"]["Watch.Area"][];
            attention: components["schemas"]["Watch.Attention"][];
            connected: components["schemas"]["Watch.Session"][];
            findings: components["schemas"]["Watch.Finding"][];
            instructions: components["schemas"]["Instruction.Instruction"][];
            neverSeen: components["schemas"]["Profile.Profile"][];
        };
        "Watch.Session": {
            addresses: string[];
            device: string | null;
            /** Format: date-time */
            endedAt: string | null;
            endpoint: string;
            gateway: string;
            id: string;
            /** Format: date-time */
            lastHeard: string;
            listener: string;
            origin: string;
            person: string | null;
            personName: string | null;
            profile: string | null;
            /** Format: int64 */
            received: number;
            /** Format: int64 */
            sent: number;
            /** Format: date-time */
            since: string;
        };
        "Watch.SettingDifference": {
            becomes: string;
            field: string;
            was: string;
        };
    };
    responses: never;
    parameters: never;
    requestBodies: never;
    headers: never;
    pathItems: never;
}
export type $defs = Record<string, never>;
export type operations = Record<string, never>;
